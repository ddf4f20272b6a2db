import { keepPreviousData, queryOptions, useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { client, unwrap } from "../../api/client";
import type { Me } from "../../api/session";
import { Button } from "../../ui/Button";
import { Mark } from "../../ui/Mark";
import { Pager } from "../../ui/Pager";
import { Page } from "../../ui/Page";
import { SearchBox } from "../../ui/SearchBox";
import { Empty, ErrorBox, Loading } from "../../ui/states";

const NewInstrument = lazy(() => import("./setup/NewInstrument"));

const findQuery = (q: string, page: number) =>
  queryOptions({
    queryKey: ["instruments", "find", q, page] as const,
    queryFn: async ({ signal }) =>
      unwrap(client.GET("/api/instruments", { params: { query: { q, page } }, signal })),
    placeholderData: keepPreviousData,
  });

/** Find an instrument by tag, words, serial or area. */
export default function InstrumentsPage({ user }: { user: Me }) {
  const [making, setMaking] = useState(false);
  const [params, setParams] = useSearchParams();
  const q = params.get("q") ?? "";
  const page = Number(params.get("page") ?? "1") || 1;
  const found = useQuery(findQuery(q, page));
  return (
    <Page
      title="Instruments"
      aside={
        <>
          <SearchBox
            label="Tag, words, serial or area"
            value={q}
            onChange={(value) => setParams(value ? { q: value } : {}, { replace: true })}
          />
          <Link to="/methods" className="ml-auto min-h-11 py-2.5 underline">
            Methods and their limits
          </Link>
          <a
            href={`/api/sheets/labels/instruments?q=${encodeURIComponent(q)}`}
            target="_blank"
            rel="noreferrer"
            className="min-h-11 py-2.5 underline"
          >
            Labels of these
          </a>
          {user.can.includes("plant.setup") && (
            <Button onClick={() => setMaking(true)}>New instrument</Button>
          )}
          {making && (
            <Suspense>
              <NewInstrument onClose={() => setMaking(false)} />
            </Suspense>
          )}
        </>
      }
    >
      {found.isPending && <Loading what="instruments" />}
      {found.isError && <ErrorBox error={found.error} onRetry={() => void found.refetch()} />}
      {found.data?.total === 0 && (
        <Empty>
          {q
            ? `No instrument fits “${q}”. Try fewer letters, or the area.`
            : "There is no instrument yet. A planner sets one up by form, or brings in a list."}
        </Empty>
      )}
      {found.data && found.data.total > 0 && (
        <div className="relative overflow-x-auto rounded-2xl border border-line bg-card">
          <table className="w-full text-left">
            <thead className="text-[14px] text-muted">
              <tr>
                {["Tag", "What it measures", "Range and tolerance", "Last result", "Next due"].map(
                  (head) => (
                    <th key={head} scope="col" className="px-4 py-2 font-normal">
                      {head}
                    </th>
                  ),
                )}
              </tr>
            </thead>
            <tbody>
              {found.data.found.map((i) => (
                <tr key={i.tag} className="border-t border-line hover:bg-sunk">
                  <td className="p-0">
                    <Link
                      to={`/instruments/${encodeURIComponent(i.tag)}`}
                      className="block px-4 py-3 text-lg font-semibold whitespace-nowrap"
                    >
                      {i.tag}
                    </Link>
                  </td>
                  <td className="px-4">
                    {i.description}
                    <span className="block text-[14px] text-muted">{i.area}</span>
                  </td>
                  <td className="digits px-4 text-[15px]">
                    {i.range}
                    <span className="block text-[14px] text-muted">{i.tolerance}</span>
                  </td>
                  <td className="px-4">
                    <Mark mark={i.last_mark} words />
                    <span className="digits block text-[14px] whitespace-nowrap text-muted">
                      {i.last_on}
                    </span>
                  </td>
                  <td className="digits px-4 whitespace-nowrap">{i.next_due}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {found.data && found.data.total > 0 && (
        <Pager
          page={found.data.page}
          pages={found.data.pages}
          total={`${found.data.total} ${found.data.total === 1 ? "instrument" : "instruments"}`}
          onPage={(next) => setParams({ ...(q ? { q } : {}), page: String(next) })}
        />
      )}
    </Page>
  );
}
