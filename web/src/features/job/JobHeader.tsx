import { Link } from "react-router";
import type { JobState } from "../../api/client";

/** Which instrument, and how far through the seven stages. */
export function JobHeader({ job, others }: { job: JobState; others: string[] }) {
  const i = job.instrument;
  const now = job.stages.findIndex((s) => s.status === "now");
  return (
    <header className="col-span-full flex flex-wrap items-center gap-x-4 gap-y-1">
      <h1 className="text-[24px] leading-none font-semibold lg:text-[27px]">
        <Link
          to={`/instruments/${i.tag}`}
          className="inline-flex min-h-11 items-center hover:underline"
        >
          {i.tag}
        </Link>
      </h1>
      <p className="min-w-0 flex-1 basis-[240px] text-[14px] leading-tight text-muted lg:text-[15px]">
        <span className="block truncate">
          {i.description}, {i.area.toLowerCase()}
        </span>
        <span
          className="digits block text-[13.5px] max-lg:truncate lg:line-clamp-2"
          title={`${i.range} · ${i.output} · ${i.tolerance}`}
        >
          {i.range} · {i.output} · {i.tolerance}
        </span>
      </p>
      {others.length > 0 && (
        <p role="status" className="rounded-lg bg-accent-soft px-3 py-1.5 text-[14.5px]">
          Also here: <strong>{others.join(", ")}</strong>
        </p>
      )}
      <div className="w-full sm:w-60">
        {now >= 0 && (
          <p className="mb-1 flex justify-between text-[13px] max-sm:sr-only" aria-hidden="true">
            <strong className="font-semibold">{job.stages[now]?.title}</strong>
            <span className="digits text-muted">
              {now + 1} of {job.stages.length}
            </span>
          </p>
        )}
        <ol aria-label="Stages" className="flex gap-1">
          {job.stages.map((s) => (
            <li
              key={s.id}
              title={s.title}
              aria-current={s.status === "now" ? "step" : undefined}
              className="min-w-0 flex-1"
            >
              <span className="block h-1.5 overflow-hidden rounded bg-line">
                <span
                  className={`block h-full ${s.status === "now" ? "bg-accent" : "bg-ink"}`}
                  style={{ width: `${s.done_share * 100}%` }}
                />
              </span>
              <span className="sr-only">
                {s.title}
                {s.status === "done" && " done"}
              </span>
            </li>
          ))}
        </ol>
      </div>
    </header>
  );
}
