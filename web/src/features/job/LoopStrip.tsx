import type { Schemas } from "../../api/client";
import { Figure } from "./Explain";

type Station = Schemas["Station"];

/** The measuring chain as stations; the hop that holds the error is named where it enters. */
export function LoopStrip({ stations, live }: { stations: Station[]; live: boolean }) {
  // Side by side in one line; the more there are, the smaller the figures.
  const size = stations.length > 5 ? "text-[15px] xl:text-[17px]" : "text-[15px] xl:text-[21px]";
  return (
    <section aria-label="Loop strip" className="rounded-[14px] border border-line bg-card p-1.5">
      {stations.length === 0 && (
        <p className="px-3 py-5 text-muted">
          The stations of the loop appear with the first reading.
        </p>
      )}
      <ol className="grid grid-cols-2 sm:auto-cols-fr sm:grid-flow-col sm:grid-cols-none">
        {stations.map((s) => (
          <li
            key={s.id}
            className={`min-w-0 rounded-[10px] px-1.5 py-1.5 ${s.bad ? "bg-outside-soft" : ""}`}
          >
            <p className="text-[13px] text-muted">{s.label}</p>
            <p className={`digits ${size} leading-tight font-semibold`}>
              <span className="whitespace-nowrap">
                {s.figure && !live ? (
                  <Figure name={s.figure} className="text-left">
                    {s.value}
                  </Figure>
                ) : (
                  s.value
                )}
              </span>{" "}
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
