import { Mark } from "../../../ui/Mark";
import type { Fits } from "./api";

/** Does it fit together, and what a job will ask: worked out anew as it is typed. */
export function FitPanel({ fits }: { fits: Fits | undefined }) {
  if (!fits) return <p className="text-muted">Looking …</p>;
  return (
    <>
      <h2 className="mb-2 font-semibold">Does it fit together?</h2>
      <ul className="mb-4">
        {fits.lines.map((line) => (
          <li key={line.text} className="flex gap-3 border-b border-line py-2 leading-snug">
            <span className="min-w-0 flex-1">
              {line.text}
              {line.aside && <span className="block text-[13.5px] text-muted">{line.aside}</span>}
            </span>
            <Mark mark={line.mark} className="mt-1 self-start" />
          </li>
        ))}
      </ul>
      {fits.asks && <Asks asks={fits.asks} />}
    </>
  );
}

function Asks({ asks }: { asks: NonNullable<Fits["asks"]> }) {
  return (
    <>
      <h2 className="font-semibold">
        What a job will ask{" "}
        <span className="text-[14px] font-normal text-muted">
          {asks.run.toLowerCase()}, {asks.points} {asks.points === 1 ? "point" : "points"}
        </span>
      </h2>
      <table className="digits w-full text-[14px]">
        <thead>
          <tr className="border-b border-line font-sans text-[13px] text-muted">
            <th scope="col" className="py-1 text-left font-normal">
              Point
            </th>
            {[`Apply ${asks.unit_in}`, `Read ${asks.unit_out}`, "±"].map((head) => (
              <th key={head} scope="col" className="py-1 pl-2 text-right font-normal">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {asks.rows.map((row, n) => (
            <tr key={n} className="border-b border-line">
              <td className="py-1 whitespace-nowrap">{row.label}</td>
              <td className="pl-2 text-right">{row.apply}</td>
              <td className="pl-2 text-right">{row.ideal}</td>
              <td className="pl-2 text-right">{row.limit}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-2 text-[13.5px] text-muted">
        {asks.steps} steps in all. What depends on the references chosen is known in the job.
      </p>
    </>
  );
}
