import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { ChevronDownIcon } from "@heroicons/react/24/outline";
import { keepPreviousData, queryOptions, useQuery } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";
import { client, unwrap, type Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { Mark } from "../../ui/Mark";
import { Page } from "../../ui/Page";
import { SearchBox } from "../../ui/SearchBox";
import { Empty, ErrorBox, Loading } from "../../ui/states";

const FILTERS = [
  ["", "All"],
  ["outside", "Found outside"],
  ["near", "Found close"],
  ["within", "Found within"],
  ["unreviewed", "Not reviewed"],
  ["follow_up", "To follow up"],
] as const;

const FILES = [
  ["pdf", "Certificate, PDF"],
  ["json", "Certificate, JSON"],
  ["csv", "Readings, CSV"],
] as const;

const recordsQuery = (q: string, mark: string, page: number) =>
  queryOptions({
    queryKey: ["records", q, mark, page] as const,
    queryFn: async ({ signal }) =>
      unwrap(client.GET("/api/records", { params: { query: { q, mark, page } }, signal })),
    placeholderData: keepPreviousData,
  });

/** Signed records: find, open, download. */
export default function RecordsPage() {
  const [params, setParams] = useSearchParams();
  const q = params.get("q") ?? "";
  const mark = params.get("mark") ?? "";
  const page = Number(params.get("page") ?? "1");
  const found = useQuery(recordsQuery(q, mark, page));
  const go = (change: Record<string, string>) =>
    setParams(
      Object.entries({ q, mark, ...change }).filter(([, value]) => value !== ""),
      { replace: true },
    );
  return (
    <Page
      title="Records"
      aside={
        <SearchBox
          label="Job, tag, words, name or reference"
          value={q}
          onChange={(value) => go({ q: value })}
        />
      }
    >
      <div role="group" aria-label="Show" className="mb-3 flex flex-wrap gap-2">
        {FILTERS.map(([value, label]) => (
          <button
            key={value}
            type="button"
            aria-pressed={mark === value}
            onClick={() => go({ mark: value })}
            className="min-h-11 rounded-full border border-line bg-card px-4 aria-pressed:border-accent aria-pressed:bg-accent-soft"
          >
            {label}
          </button>
        ))}
      </div>
      {found.isPending && <Loading what="records" />}
      {found.isError && <ErrorBox error={found.error} onRetry={() => void found.refetch()} />}
      {found.data?.total === 0 && (
        <Empty>
          {mark === "follow_up"
            ? "Nothing is to be followed up."
            : "No record fits. A job appears here once it is signed."}
        </Empty>
      )}
      {found.data && found.data.total > 0 && (
        <>
          <ul className="overflow-hidden rounded-2xl border border-line bg-card">
            {found.data.records.map((r) => (
              <RecordLine key={r.job} r={r} />
            ))}
          </ul>
          <div className="mt-3 flex items-center gap-3 text-muted">
            <span>
              <span className="digits">{found.data.total}</span> records
            </span>
            {found.data.pages > 1 && (
              <>
                <Button disabled={page <= 1} onClick={() => go({ page: String(page - 1) })}>
                  Newer
                </Button>
                <span className="digits">
                  {page} of {found.data.pages}
                </span>
                <Button
                  disabled={page >= found.data.pages}
                  onClick={() => go({ page: String(page + 1) })}
                >
                  Older
                </Button>
              </>
            )}
          </div>
        </>
      )}
    </Page>
  );
}

function RecordLine({ r }: { r: Schemas["RecordOut"] }) {
  const files = `/api/records/${r.job}/certificate`;
  return (
    <li className="grid items-center gap-x-4 gap-y-1 border-t border-line px-4 py-2 first:border-t-0 md:grid-cols-[104px_110px_1fr_170px_auto]">
      <span className="digits">{r.day}</span>
      <Link to={`/jobs/${r.job}`} className="py-2 font-semibold hover:underline">
        {r.tag}
        <span className="digits block text-[13px] font-normal text-muted">{r.job}</span>
      </Link>
      <span className="min-w-0">
        {r.description}
        <span className="block text-[14px] text-muted">
          {r.signed_by}
          {r.status === "reviewed" ? ", reviewed" : ", not reviewed yet"}
          {r.follow_up === "open" && " · to follow up"}
          {r.causes && ` · ${r.causes.toLowerCase()}`}
        </span>
      </span>
      <span>
        <span className="digits">{r.max_found}</span> <Mark mark={r.mark_found} words />
        {r.outcome ? (
          <span className="block text-[14px] font-semibold text-outside">{r.outcome}</span>
        ) : (
          r.adjusted && (
            <span className="block text-[14px] text-muted">
              left <Mark mark={r.mark_left} words />
            </span>
          )
        )}
      </span>
      <Menu>
        <MenuButton
          aria-label={`Papers of ${r.job}`}
          className="flex min-h-11 items-center gap-1.5 rounded-lg border border-line px-3 text-[15px] hover:bg-sunk"
        >
          Papers <ChevronDownIcon className="size-4" aria-hidden="true" />
        </MenuButton>
        <MenuItems
          anchor={{ to: "bottom end", gap: 4 }}
          className="z-10 min-w-40 rounded-xl border border-line bg-card p-1 text-ink shadow-xl"
        >
          {FILES.map(([kind, words]) => (
            <MenuItem key={kind}>
              <a
                href={`${files}.${kind}`}
                download={`${r.job}.${kind}`}
                className="flex min-h-11 items-center rounded-lg px-3 data-focus:bg-sunk"
              >
                {words}
              </a>
            </MenuItem>
          ))}
        </MenuItems>
      </Menu>
    </li>
  );
}
