import type { JobState } from "../../api/client";

/** What each gas gave, in words, with the response of the sensor. */
export function GasLines({ job }: { job: JobState }) {
  if (job.gas_lines.length === 0) return null;
  return (
    <table className="w-full text-left text-[14px]">
      <caption className="sr-only">What the detector answered to each gas</caption>
      <tbody>
        {job.gas_lines.map((l, i) => (
          <tr key={`${l.run}${l.gas}${i}`} className="border-t border-line align-top">
            <td className="py-1 pr-2 whitespace-nowrap">{l.gas}</td>
            <td className="digits py-1 pr-2 whitespace-nowrap">{l.reading}</td>
            <td
              className={`py-1 ${l.outcome === "accepted" ? "text-within" : "font-semibold text-outside"}`}
            >
              {l.label}
              <span className="digits block font-normal text-muted">
                {[l.response, l.of_new, l.t90 && `90 % after ${l.t90}`].filter(Boolean).join(" · ")}
              </span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
