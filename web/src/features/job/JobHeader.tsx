import { Link } from "react-router";
import type { JobState } from "../../api/client";

/** Which instrument, and how far through the seven stages. */
export function JobHeader({ job, others }: { job: JobState; others: string[] }) {
  const i = job.instrument;
  return (
    <header className="col-span-full flex flex-wrap items-center gap-x-5 gap-y-2">
      <h1 className="text-[27px] leading-none font-semibold">
        <Link to={`/instruments/${i.tag}`} className="hover:underline">
          {i.tag}
        </Link>
      </h1>
      <p className="text-[15px] leading-tight text-muted">
        {i.description}, {i.area.toLowerCase()}
        <br />
        <span className="digits text-[14px]">
          {i.range} · {i.output} · {i.tolerance}
        </span>
      </p>
      {others.length > 0 && (
        <p role="status" className="rounded-lg bg-accent-soft px-3 py-1.5 text-[14.5px]">
          Also here: <strong>{others.join(", ")}</strong>
        </p>
      )}
      <ol aria-label="Stages" className="ml-auto flex gap-2">
        {job.stages.map((s) => (
          <li
            key={s.id}
            aria-current={s.status === "now" ? "step" : undefined}
            className={`w-[72px] text-[12.5px] xl:w-[82px] ${s.status === "now" ? "font-semibold text-ink" : "text-muted"}`}
          >
            <span className="mb-1 block h-1.5 overflow-hidden rounded bg-line">
              <span
                className={`block h-full ${s.status === "now" ? "bg-accent" : "bg-ink"}`}
                style={{ width: `${s.done_share * 100}%` }}
              />
            </span>
            {s.title}
            {s.status === "done" && <span className="sr-only"> done</span>}
          </li>
        ))}
      </ol>
    </header>
  );
}
