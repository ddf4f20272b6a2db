import { keepPreviousData, queryOptions, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { client, unwrap, type Schemas } from "../../api/client";
import type { Me } from "../../api/session";
import { Button } from "../../ui/Button";
import { Mark } from "../../ui/Mark";
import { Page } from "../../ui/Page";
import { Pager } from "../../ui/Pager";
import { Empty, ErrorBox, Loading } from "../../ui/states";
import { moment } from "../../ui/time";
import { useLater } from "../../ui/useLater";
import { useOpenJob } from "../../ui/useOpenJob";
import { useStartRound } from "../../ui/round";
import { Filters } from "./Filters";
import { EVERYTHING, type Filter } from "./filtering";

type Due = Schemas["DueOut"];

const todayQuery = (filter: Filter) =>
  queryOptions({
    queryKey: ["today", filter] as const,
    queryFn: async ({ signal }) =>
      unwrap(client.GET("/api/v1/today", { params: { query: filter }, signal })),
    placeholderData: keepPreviousData,
    refetchInterval: 15000,
  });

/** What is due, as a round by area, and what is running. */
export default function TodayPage({ user }: { user: Me }) {
  const open = useOpenJob();
  const start = useStartRound();
  const [filter, setFilter] = useState(EVERYTHING);
  const today = useQuery(todayQuery(useLater(filter, filter.q ? 200 : 0)));
  const refused = open.error ?? start.error;
  if (today.isPending) return <Loading what="today" />;
  if (today.isError)
    return (
      <Page title="Today">
        <ErrorBox error={today.error} onRetry={() => void today.refetch()} />
      </Page>
    );
  const { areas, running, rounds, overdue, due_today, soon, undated, total } = today.data;
  const any = overdue + due_today + soon > 0;
  return (
    <Page
      title="Today"
      aside={
        <p className="pb-1 text-muted">
          <Count n={overdue} what="overdue" /> · <Count n={due_today} what="due today" /> ·{" "}
          <Count n={soon} what="in the next 14 days" />
          {undated > 0 && (
            <>
              {" "}
              ·{" "}
              <Link className="underline" to="/instruments?state=undated">
                <Count n={undated} what="without a day" />
              </Link>
            </>
          )}
        </p>
      }
    >
      {refused && (
        <div className="mb-4">
          <ErrorBox error={refused} />
        </div>
      )}
      {any && <Filters today={today.data} filter={filter} onFilter={setFilter} />}
      <div className="grid items-start gap-5 lg:grid-cols-[1fr_320px]">
        <section aria-label="Due">
          {!any && (
            <Empty>
              Nothing is due in the next 14 days.{" "}
              <Link className="underline" to="/instruments">
                Find an instrument
              </Link>{" "}
              to check it all the same.
            </Empty>
          )}
          {any && total === 0 && <Empty>Nothing that is due fits. Take a filter away.</Empty>}
          {areas.map((area) => (
            <div key={area.name} className="mb-5">
              <div className="mb-2 flex flex-wrap items-center justify-between gap-2">
                <h2 className="text-[15px] font-semibold text-muted">{area.name}</h2>
                {user.can.includes("job.record") && (
                  <RoundButton due={area.due} onStart={(tags) => start.mutate(tags)} />
                )}
              </div>
              <ul className="overflow-hidden rounded-2xl border border-line bg-card">
                {area.due.map((due) => (
                  <DueLine
                    key={due.tag}
                    due={due}
                    mayOpen={user.can.includes("job.open")}
                    busy={open.isPending}
                    onOpen={() => open.mutate({ tag: due.tag })}
                  />
                ))}
              </ul>
            </div>
          ))}
          {today.data.pages > 1 && (
            <Pager
              page={today.data.page}
              pages={today.data.pages}
              total={`${total} due`}
              onPage={(page) => setFilter({ ...filter, page })}
            />
          )}
        </section>
        <div className="grid gap-5">
          <section aria-label="Running" className="rounded-2xl border border-line bg-card p-4">
            <h2 className="mb-2 font-semibold">Running</h2>
            {today.data.proposals.length > 0 && (
              <p className="mb-3 rounded-xl bg-caution px-3 py-2 text-[14.5px]">
                Found otherwise than on record, for a planner to decide:
                {today.data.proposals.map((tag) => (
                  <Link
                    key={tag}
                    to={`/instruments/${encodeURIComponent(tag)}`}
                    className="ml-1 inline-flex min-h-11 items-center px-1 font-semibold underline"
                  >
                    {tag}
                  </Link>
                ))}
              </p>
            )}
            {running.length === 0 && <p className="text-muted">No job is open.</p>}
            {rounds.map((round) => (
              <Link
                key={round.job}
                to={`/jobs/${round.job}`}
                className="mb-2 block rounded-xl bg-accent-soft px-3 py-2"
              >
                <strong>Round in {round.area}</strong>
                <span className="block text-[14.5px]">
                  <span className="digits">{round.place}</span> of{" "}
                  <span className="digits">{round.total}</span>, begun by {round.opened_by}: go on
                </span>
              </Link>
            ))}
            <ul className="-mx-2">
              {running.map((job) => (
                <li key={job.job}>
                  <Link
                    to={`/jobs/${job.job}`}
                    className="block rounded-xl px-2 py-2 hover:bg-sunk"
                  >
                    <span className="flex justify-between">
                      <strong>{job.tag}</strong>
                      <span className="digits text-[14px] text-muted">{job.job}</span>
                    </span>
                    <span className="block text-[15px]">{job.step}</span>
                    <span className="block text-[14px] text-muted">
                      {job.opened_by}, last entry {moment(job.changed_at).slice(11)}
                    </span>
                  </Link>
                </li>
              ))}
            </ul>
          </section>
          <Stands lines={today.data.stands} more={today.data.stands_more} />
        </div>
      </div>
    </Page>
  );
}

/** Instruments whose results hold for a while only: whether they do now. */
function Stands({ lines, more }: { lines: Schemas["StandsLine"][]; more: number }) {
  if (lines.length === 0) return null;
  return (
    <section aria-label="Still valid?" className="rounded-2xl border border-line bg-card p-4">
      <h2 className="mb-2 font-semibold">
        Still valid? <span className="text-[14px] font-normal text-muted">results with an end</span>
      </h2>
      <ul className="grid gap-1.5">
        {lines.map((line) => (
          <li key={line.tag}>
            <Link
              to={`/instruments/${encodeURIComponent(line.tag)}`}
              className={`flex min-h-11 flex-col justify-center rounded-xl px-3 py-1.5 ${line.good ? "bg-sunk" : "bg-caution"}`}
            >
              <strong>
                {line.good ? "Valid now" : "Not valid now"}: {line.tag}
              </strong>
              <span className="text-[14.5px]">{line.text}</span>
            </Link>
          </li>
        ))}
      </ul>
      {more > 0 && (
        <p className="mt-2 text-[14.5px] text-muted">
          and <span className="digits">{more}</span> more of which nothing was signed yet
        </p>
      )}
    </section>
  );
}

/** Instruments of an area that are checked in rounds are walked as one. */
function RoundButton({ due, onStart }: { due: Due[]; onStart: (tags: string[]) => void }) {
  const tags = due.filter((d) => d.round).map((d) => d.tag);
  if (tags.length < 2) return null;
  return <Button onClick={() => onStart(tags)}>Walk {tags.length} checks as one round</Button>;
}

function Count({ n, what }: { n: number; what: string }) {
  return (
    <span>
      <strong className="digits text-ink">{n}</strong> {what}
    </span>
  );
}

type LineProps = { due: Due; mayOpen: boolean; busy: boolean; onOpen: () => void };

function DueLine({ due, mayOpen, busy, onOpen }: LineProps) {
  const late = due.group === "overdue";
  return (
    <li className="grid items-center gap-x-4 gap-y-2 border-t border-line px-4 py-3 first:border-t-0 sm:grid-cols-[120px_1fr_auto]">
      <div className="min-w-0">
        <Link
          to={`/instruments/${due.tag}`}
          className="inline-flex min-h-11 min-w-11 items-center text-lg font-semibold wrap-anywhere hover:underline"
        >
          {due.tag}
        </Link>
        <p className={`text-[14px] ${late ? "font-semibold text-outside" : "text-muted"}`}>
          {due.due_text}
        </p>
      </div>
      <div className="min-w-0">
        <p>{due.description}</p>
        <p className="text-[14px] text-muted">
          <span className="text-ink">{due.what}</span> · {due.range} · {due.tolerance} ·{" "}
          {due.loop_role}
          {due.rig && " · simulated rig"}
          {due.last_mark && (
            <>
              {" "}
              · last left <Mark mark={due.last_mark} words className="align-[-2px]" />
            </>
          )}
        </p>
        {due.caution && <p className="text-[14px] text-edge">{due.caution}</p>}
      </div>
      {due.open_job ? (
        <Link
          to={`/jobs/${due.open_job}`}
          className="min-h-11 rounded-xl border border-accent px-4 py-2.5 text-center font-semibold text-accent"
        >
          Go on
        </Link>
      ) : (
        mayOpen && (
          <Button onClick={onOpen} disabled={busy} aria-label={`Start ${due.tag}`}>
            Start
          </Button>
        )
      )}
    </li>
  );
}
