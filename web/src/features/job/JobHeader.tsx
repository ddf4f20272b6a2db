import { Link } from "react-router";
import type { JobState } from "../../api/client";

/** Which instrument, and how far through the seven stages. */
export function JobHeader({ job, others }: { job: JobState; others: string[] }) {
  const i = job.instrument;
  return (
    <header className="col-span-full flex flex-wrap items-center gap-x-5 gap-y-2">
      <h1 className="text-[27px] leading-none font-semibold">
        <Link
          to={`/instruments/${i.tag}`}
          className="inline-flex min-h-11 items-center hover:underline"
        >
          {i.tag}
        </Link>
      </h1>
      <p className="min-w-[240px] flex-1 basis-0 text-[15px] leading-tight text-muted">
        {i.description}, {i.area.toLowerCase()}
        <span
          className="digits block text-[14px] lg:line-clamp-2"
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
      <ol aria-label="Stages" className="flex w-full gap-1 sm:ml-auto sm:w-auto sm:gap-2">
        {job.stages.map((s) => (
          <li
            key={s.id}
            aria-current={s.status === "now" ? "step" : undefined}
            className={`min-w-0 text-[12.5px] sm:w-[72px] sm:flex-none xl:w-[82px] ${s.status === "now" ? "flex-[3] font-semibold text-ink" : "flex-1 text-muted"}`}
          >
            <span className="mb-1 block h-1.5 overflow-hidden rounded bg-line">
              <span
                className={`block h-full ${s.status === "now" ? "bg-accent" : "bg-ink"}`}
                style={{ width: `${s.done_share * 100}%` }}
              />
            </span>
            <span className={s.status === "now" ? "" : "max-sm:sr-only"}>{s.title}</span>
            {s.status === "done" && <span className="sr-only"> done</span>}
          </li>
        ))}
      </ol>
    </header>
  );
}
