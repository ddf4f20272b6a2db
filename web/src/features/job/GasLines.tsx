import type { JobState } from "../../api/client";

/** What each gas gave, in words, with the response of the sensor. */
export function GasLines({ job }: { job: JobState }) {
  if (job.gas_lines.length === 0) return null;
  const several = new Set(job.gas_lines.map((l) => l.channel)).size > 1;
  return (
    <ul aria-label="What the detector answered" className="text-[14px]">
      {job.gas_lines.map((l, i) => {
        const details = [l.response, l.last, l.of_new, l.t90 && `90 % after ${l.t90}`].filter(
          Boolean,
        );
        return (
          <li key={`${l.run}${l.gas}${i}`} className="border-t border-line py-1">
            <span className="flex justify-between gap-2">
              <span>
                {several && `${l.channel}, `}
                {l.gas} <strong className="digits">{l.reading}</strong>
              </span>
              <span
                className={l.outcome === "accepted" ? "text-within" : "font-semibold text-outside"}
              >
                {l.label}
              </span>
            </span>
            {details.length > 0 && (
              <span className="block text-[13.5px] text-muted">{details.join(" · ")}</span>
            )}
          </li>
        );
      })}
    </ul>
  );
}
