import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { ChevronDownIcon } from "@heroicons/react/24/outline";
import { keepPreviousData, queryOptions, useQuery } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";
import { client, unwrap, type Schemas } from "../../api/client";
import { Choose } from "../../ui/Choose";
import { Field } from "../../ui/Field";
import { Mark } from "../../ui/Mark";
import { Pager } from "../../ui/Pager";
import { Page } from "../../ui/Page";
import { SearchBox } from "../../ui/SearchBox";
import { Empty, ErrorBox, Loading } from "../../ui/states";
import { Views } from "../../ui/Views";
import { wrongAt } from "../../ui/wrong";

const FILTERS = [
  ["", "All"],
  ["outside", "Found outside"],
  ["near", "Found close"],
  ["within", "Found within"],
  ["unreviewed", "Not reviewed"],
  ["follow_up", "To follow up"],
] as const;

const PERIOD = [
  ["records.xlsx", "These as XLSX"],
  ["records.csv", "as CSV"],
  ["certificates.zip", "every certificate, ZIP"],
] as const;

const FILES = [
  ["pdf", "Certificate, PDF"],
  ["json", "Certificate, JSON"],
  ["csv", "Readings, CSV"],
] as const;

type Sought = { q: string; mark: string; area: string; first: string; last: string };
const NAMES = ["q", "mark", "area", "first", "last"] as const;

const soughtIn = (params: URLSearchParams): Sought => {
  const at = (name: string) => params.get(name) ?? "";
  return { q: at("q"), mark: at("mark"), area: at("area"), first: at("first"), last: at("last") };
};

const asAddress = (sought: Sought, page = 1): URLSearchParams => {
  const params = new URLSearchParams();
  for (const name of NAMES) if (sought[name]) params.set(name, sought[name]);
  if (page > 1) params.set("page", String(page));
  return params;
};

const recordsQuery = ({ first, last, ...words }: Sought, page: number) =>
  queryOptions({
    queryKey: ["records", words, first, last, page] as const,
    queryFn: async ({ signal }) => {
      const days = { ...(first && { first }), ...(last && { last }) };
      const query = { ...words, ...days, page };
      return unwrap(client.GET("/api/v1/records", { params: { query }, signal }));
    },
    placeholderData: keepPreviousData,
  });

/** Signed records: find, open, download; those of a period to give away. */
export default function RecordsPage() {
  const [params, setParams] = useSearchParams();
  const sought = soughtIn(params);
  const page = Number(params.get("page") ?? "1") || 1;
  const found = useQuery(recordsQuery(sought, page));
  const { q, mark } = sought;
  const go = (change: Partial<Sought>) =>
    setParams(asAddress({ ...sought, ...change }), { replace: true });
  const query = asAddress(sought).toString();
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
      <div role="search" className="mb-3 flex flex-wrap items-end gap-2">
        <Choose
          label="All areas"
          value={sought.area}
          choices={found.data?.area_names ?? []}
          onChange={(area) => go({ area })}
        />
        <Field
          label="Signed from"
          type="date"
          value={sought.first}
          problem={wrongAt(found.error, "first")}
          onChange={(e) => go({ first: e.target.value })}
        />
        <Field
          label="until"
          type="date"
          value={sought.last}
          problem={wrongAt(found.error, "last")}
          onChange={(e) => go({ last: e.target.value })}
        />
        <Views place="records" query={query} onShow={(next) => setParams(next)} />
        {(found.data?.total ?? 0) > 0 && (
          <span className="ml-auto flex flex-wrap gap-2">
            {PERIOD.map(([name, label]) => (
              <a
                key={name}
                href={`api/v1/records/period/${name}?${query}`}
                download={name}
                className="grid min-h-11 place-items-center rounded-xl border border-line bg-card px-4"
              >
                {label}
              </a>
            ))}
          </span>
        )}
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
          <Pager
            page={found.data.page}
            pages={found.data.pages}
            total={`${found.data.total} ${found.data.total === 1 ? "record" : "records"}`}
            onPage={(next) => setParams(asAddress(sought, next))}
          />
        </>
      )}
    </Page>
  );
}

function RecordLine({ r }: { r: Schemas["RecordOut"] }) {
  const files = `api/v1/records/${r.job}/certificate`;
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
          {r.work_order && " · order "}
          {r.order_link ? (
            <a className="underline" href={r.order_link} target="_blank" rel="noreferrer">
              {r.work_order}
            </a>
          ) : (
            r.work_order
          )}
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
