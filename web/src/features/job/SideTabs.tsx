import { useQuery } from "@tanstack/react-query";
import type { JobState, Schemas } from "../../api/client";
import { jobQueries } from "./api";
import { ErrorBox, Loading } from "../../ui/states";
import { Button } from "../../ui/Button";
import { moment } from "../../ui/time";

export type Line = Schemas["LogLine"];

const SIGNS: Record<string, string> = { done: "✓", now: "→", open: "◷", blocked: "", skipped: "–" };

/** All steps of the method, what is done and what waits for what. */
export function StepsTab({ job }: { job: JobState }) {
  return (
    <div className="columns-1 gap-6 lg:columns-2">
      {job.stages.map((stage) => (
        <section key={stage.id} className="mb-4 break-inside-avoid">
          <h3 className="text-[14px] font-semibold text-muted">{stage.title}</h3>
          <ol>
            {job.steps
              .filter((s) => s.stage === stage.id && (s.status !== "skipped" || s.summary))
              .map((s) => (
                <li
                  key={s.id}
                  aria-current={s.status === "now" ? "step" : undefined}
                  className={`grid grid-cols-[24px_1fr] border-t border-line py-1.5 text-[15px] ${s.status === "blocked" || s.status === "skipped" ? "text-muted" : ""} ${s.status === "now" ? "font-semibold text-accent" : ""}`}
                >
                  <span aria-hidden="true">{SIGNS[s.status]}</span>
                  <span>
                    {s.title}
                    <span className="sr-only">: {s.status}</span>
                    {s.summary && (
                      <span className="block text-[14px] font-normal text-muted">{s.summary}</span>
                    )}
                  </span>
                </li>
              ))}
          </ol>
        </section>
      ))}
    </div>
  );
}

type HistoryProps = { job: JobState; mayUndo: boolean; onUndo: (line: Line) => void };

/** Every entry, newest first; what was taken back stays, struck through, with its reason. */
export function HistoryTab({ job, mayUndo, onUndo }: HistoryProps) {
  const history = useQuery(jobQueries.history(job.job, job.seq));
  if (history.isPending) return <Loading what="the history" />;
  if (history.isError)
    return <ErrorBox error={history.error} onRetry={() => void history.refetch()} />;
  return (
    <ol>
      {history.data.map((line) => (
        <li
          key={line.id}
          className="grid grid-cols-[44px_1fr_auto] items-center gap-2 border-t border-line py-1.5 text-[15px]"
        >
          <span className="digits text-muted">{line.seq}</span>
          <span>
            <span className={line.retracted ? "line-through" : ""}>{line.text}</span>
            <span className="block text-[14px] text-muted">
              {line.by}, {moment(line.at)}
              {line.source === "simulated" && ", from the simulated rig"}
              {line.clock && `; ${line.clock}`}
              {line.retracted && `; taken back: ${line.retracted}`}
            </span>
          </span>
          {line.can_retract && mayUndo && (
            <Button onClick={() => onUndo(line)} aria-label={`Take back: ${line.text}`}>
              Take back
            </Button>
          )}
        </li>
      ))}
    </ol>
  );
}

/** Limits and settings of this job, each with who says so; frozen when it was opened. */
export function LimitsTab({ job }: { job: JobState }) {
  const changed = useQuery(jobQueries.changed(job.job, job.seq));
  const since = new Map((changed.data ?? []).map((c) => [c.id, c]));
  return (
    <table className="w-full text-left text-[15px]">
      <thead className="text-[14px] text-muted">
        <tr>
          <th scope="col" className="py-1 font-normal">
            Limit
          </th>
          <th scope="col" className="py-1 font-normal">
            Value
          </th>
          <th scope="col" className="py-1 font-normal">
            Source
          </th>
        </tr>
      </thead>
      <tbody>
        <tr className="border-t border-line">
          <td className="py-1.5">Tolerance</td>
          <td className="digits">{job.instrument.tolerance}</td>
          <td>{job.instrument.tolerance_source}</td>
        </tr>
        {job.limits.map((limit) => (
          <tr key={limit.id} className="border-t border-line">
            <td className="py-1.5">{limit.label}</td>
            <td className="digits">
              {limit.said} {limit.unit}
            </td>
            <td>
              {limit.source}
              {since.has(limit.id) && (
                <span className="block text-[14px] text-edge">
                  changed since: {since.get(limit.id)?.now} ({since.get(limit.id)?.source}); this
                  job keeps its own
                </span>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
