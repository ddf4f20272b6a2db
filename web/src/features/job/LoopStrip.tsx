import type { Schemas } from "../../api/client";
import { Figure } from "./Explain";

type Station = Schemas["Station"];

/** The measuring chain as stations; the hop that holds the error is named where it enters. */
export function LoopStrip({ stations, live }: { stations: Station[]; live: boolean }) {
  // More than six stations side by side take smaller figures.
  const size = stations.length > 6 ? "text-[17px]" : "text-[21px]";
  return (
    <section aria-label="Loop strip" className="rounded-[14px] border border-line bg-card p-2">
      {stations.length === 0 && (
        <p className="px-3 py-5 text-muted">
          The stations of the loop appear with the first reading.
        </p>
      )}
      <ol className="flex flex-wrap xl:flex-nowrap">
        {stations.map((s, i) => (
          <li
            key={s.id}
            className={`relative min-w-[140px] flex-1 xl:min-w-[106px] rounded-[10px] px-3 py-2 ${s.bad ? "bg-outside-soft" : ""}`}
          >
            {i > 0 && (
              <span aria-hidden="true" className="absolute top-8 -left-2.5 hidden w-5 xl:block">
                <svg viewBox="0 0 20 8" className="w-5">
                  <path d="M0 4h16m-4-3 4 3-4 3" className="fill-none stroke-muted" />
                </svg>
              </span>
            )}
            <p className="text-[13px] text-muted">{s.label}</p>
            <p className={`digits ${size} leading-tight font-semibold whitespace-nowrap`}>
              {s.figure && !live ? <Figure name={s.figure}>{s.value}</Figure> : s.value}{" "}
              <span className="text-[13px] font-normal text-muted">{s.unit}</span>
            </p>
            <p className={`text-[13px] ${s.bad ? "text-outside" : "text-muted"}`}>
              {s.error && <strong className="digits font-semibold">{s.error} </strong>}
              {s.remark}
            </p>
            {s.expected && (
              <p className="text-[13px] text-muted">
                expected <span className="digits">{s.expected}</span>
              </p>
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}
