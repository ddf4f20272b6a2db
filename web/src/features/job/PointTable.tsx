import type { JobState, RunState } from "../../api/client";
import { Mark } from "../../ui/Mark";
import { Figure } from "./Explain";

type Props = {
  job: JobState;
  run: RunState;
  chosen: number;
  onChoose: (index: number) => void;
};

/** The points of a run. A taken point can be chosen to see its stations, or to take it again. */
export function PointTable({ job, run, chosen, onChoose }: Props) {
  // What the control room adds gets a column of its own where that is what is outside.
  const behind = run.points.some((p) => p.beside);
  // A display in the unit of what is applied ought to show just that.
  const ideal = run.input_unit !== run.output_unit;
  const heads = [
    `Applied ${run.input_unit}`,
    ...(ideal ? [`Ideal ${run.output_unit}`] : []),
    `Read ${run.output_unit}`,
    `Error ${run.error_unit}`,
    ...(behind ? ["Shown %"] : []),
  ];
  return (
    <table className="digits w-full text-[14px]">
      <caption className="sr-only">Points of the run {run.title}</caption>
      <thead>
        <tr className="border-b border-line font-sans text-[13px] text-muted">
          <th scope="col" className="py-1 text-left font-normal">
            Point
          </th>
          {heads.map((head) => (
            <th key={head} scope="col" className="py-1 pl-2 text-right font-normal">
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {run.points.map((p) => {
          const now = p.index === run.current && job.status === "open";
          return (
            <tr
              key={p.index}
              aria-current={p.index === chosen ? "true" : undefined}
              className={
                p.index === chosen
                  ? "bg-accent-soft"
                  : now
                    ? "bg-sunk"
                    : p.event
                      ? ""
                      : "text-muted"
              }
            >
              <td className="p-0">
                <button
                  type="button"
                  className="min-h-6 w-full px-1 text-left whitespace-nowrap pointer-coarse:min-h-11"
                  aria-label={
                    !run.pictured
                      ? `Point ${p.index + 1}, ${p.label}`
                      : `Point ${p.index + 1}, ${p.label.slice(2)} % ${p.direction}`
                  }
                  onClick={() => onChoose(p.index)}
                >
                  {p.label}
                </button>
              </td>
              <td className="pl-2 text-right whitespace-nowrap">
                {p.event && !p.error ? "" : p.applied || p.stands_for || p.target}
              </td>
              {ideal && (
                <td className="pl-2 text-right">
                  {p.ideal && <Figure name={`${run.id}.points.${p.index}.ideal`}>{p.ideal}</Figure>}
                </td>
              )}
              <td className="pl-2 text-right">
                {p.reading}
                {p.counts_as && (
                  <span className="block whitespace-nowrap">counts as {p.counts_as}</span>
                )}
              </td>
              <td className="pl-2 text-right whitespace-nowrap">
                {p.event && !p.error && <Mark mark={p.mark} className="align-[-2px]" />}
                {p.error && (
                  <Figure
                    name={`${run.id}.points.${p.index}.error`}
                    className={
                      p.mark === "outside"
                        ? "text-outside"
                        : p.mark === "near"
                          ? "text-edge"
                          : p.mark === "within"
                            ? "text-within"
                            : ""
                    }
                  >
                    {p.error_text} <Mark mark={p.mark} className="align-[-2px]" />
                  </Figure>
                )}
              </td>
              {behind && (
                <td className="pl-2 text-right whitespace-nowrap text-outside">{p.beside}</td>
              )}
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
