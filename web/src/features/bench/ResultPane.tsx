import { useState } from "react";
import type { Problem } from "../../api/client";
import { Button } from "../../ui/Button";
import type { Result } from "./api";
import { isNumber, type Use } from "./ForJob";
import { BarsPicture } from "./pictures/BarsPicture";
import { ChartPicture } from "./pictures/ChartPicture";
import { SketchPicture } from "./pictures/SketchPicture";

type Figure = Result["shown"]["figures"][number];
type Sheet = Result["shown"]["sheets"][number];

type Props = {
  result?: Result;
  problem: Problem | null;
  /** A field of a job that asked for a number. */
  use: Use;
};

/** The result as it is typed: the first figure large, the others beneath, then the picture. */
export function ResultPane({ result, problem, use }: Props) {
  const [first, ...others] = result?.shown.figures ?? [];
  return (
    <div className="grid min-w-0 grid-cols-[minmax(0,1fr)] content-start gap-3">
      <div
        aria-live="polite"
        className="flex min-h-[92px] flex-wrap items-baseline gap-x-4 rounded-2xl bg-live px-5 py-3 text-live-ink print:border print:bg-white print:text-black"
      >
        {problem ? (
          <div>
            <p className="text-lg font-semibold">{problem.message}</p>
            <p className="text-live-muted">{problem.remedy}</p>
          </div>
        ) : first ? (
          <Hero figure={first} use={use} />
        ) : (
          <p className="text-live-muted">{result ? "See the table." : "Computing …"}</p>
        )}
      </div>
      {!problem && result && (
        <>
          {result.picture && (
            <div className="break-inside-avoid rounded-xl border border-line bg-card px-3 py-2">
              {result.picture.kind === "chart" && <ChartPicture chart={result.picture} />}
              {result.picture.kind === "bars" && <BarsPicture picture={result.picture} />}
              {result.picture.kind === "sketch" && <SketchPicture picture={result.picture} />}
            </div>
          )}
          {others.length > 0 && (
            <dl className="grid grid-cols-[repeat(auto-fit,minmax(200px,1fr))] break-inside-avoid gap-x-6 rounded-xl border border-line bg-card px-4 py-1">
              {others.map((figure) => (
                <Row key={figure.field} figure={figure} use={use} />
              ))}
            </dl>
          )}
          {result.shown.sheets.map((sheet) => (
            <SheetTable key={sheet.field} sheet={sheet} />
          ))}
        </>
      )}
    </div>
  );
}

/** A figure with the other units it can be read in. */
function useUnit(figure: Figure, use: Use) {
  const units = [figure.unit, ...(figure.others ?? []).map((o) => o.unit)];
  const wanted = use && units.includes(use.unit) ? use.unit : figure.unit;
  const [unit, setUnit] = useState(wanted);
  const other = figure.others?.find((o) => o.unit === unit);
  const text = other ? other.text : figure.text;
  const fits =
    use && isNumber(text) && (use.unit === "" || (other?.unit ?? figure.unit) === use.unit);
  const button = fits && (
    <Button className="text-[15px] text-ink print:hidden" onClick={() => use.put(text)}>
      Use in {use.label}
    </Button>
  );
  const chooser =
    units.length > 1 ? (
      <select
        aria-label={`Unit of ${figure.label}`}
        className="min-h-11 rounded-lg bg-transparent px-1"
        value={other ? unit : figure.unit}
        onChange={(e) => setUnit(e.target.value)}
      >
        {units.map((u) => (
          <option key={u} className="text-black">
            {u}
          </option>
        ))}
      </select>
    ) : (
      <span>{figure.unit}</span>
    );
  return { text, chooser, button };
}

function Hero({ figure, use }: { figure: Figure; use: Use }) {
  const { text, chooser, button } = useUnit(figure, use);
  return (
    <>
      <span className="w-full text-[14px] text-live-muted">{figure.label}</span>
      <output
        title={figure.full ? `in full: ${figure.full}` : undefined}
        className={`digits font-semibold ${text.length > 12 ? "text-[26px]" : "text-[42px]"} leading-none`}
      >
        {text}
      </output>
      <span className="text-xl">{chooser}</span>
      {button}
      {figure.full && (
        <span className="digits text-[14px] text-live-muted">in full {figure.full}</span>
      )}
    </>
  );
}

function Row({ figure, use }: { figure: Figure; use: Use }) {
  const { text, chooser, button } = useUnit(figure, use);
  const long = text.length > 14;
  return (
    <div
      className={`flex min-h-11 items-center justify-between gap-3 ${long ? "col-span-full" : ""}`}
    >
      <dt className="text-[14px] leading-tight text-muted">{figure.label}</dt>
      <dd className={`flex items-center gap-1.5 ${long ? "text-right" : "digits text-lg"}`}>
        <span title={figure.full ? `in full: ${figure.full}` : undefined}>{text}</span>{" "}
        <span className="font-sans text-[14px] whitespace-nowrap text-muted">{chooser}</span>
        {button}
      </dd>
    </div>
  );
}

/** A list of single values, or a table. */
function SheetTable({ sheet }: { sheet: Sheet }) {
  if (sheet.columns.length === 1)
    return (
      <div className="rounded-xl border border-line bg-card px-4 py-2">
        <p className="text-[14px] text-muted">{sheet.label}</p>
        <ul className="flex flex-wrap gap-x-5 gap-y-1">
          {sheet.rows.map((row, n) => (
            <li key={n} className={/^[−\d]/.test(row[0] ?? "") ? "digits" : "w-full"}>
              {row[0]}
            </li>
          ))}
        </ul>
      </div>
    );
  return (
    <div tabIndex={0} className="relative overflow-x-auto rounded-xl border border-line bg-card">
      <table className="w-full text-[14px]">
        <caption className="px-3 py-2 text-left text-muted">{sheet.label}</caption>
        <thead>
          <tr className="text-left text-[13px] text-muted">
            {sheet.columns.map((c, n) => (
              <th key={n} className="px-3 py-1 align-bottom font-normal">
                {c}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {sheet.rows.map((row, n) => (
            <tr key={n} className="border-t border-line align-top">
              {row.map((cell, k) => (
                <td
                  key={k}
                  className={`px-3 py-1.5 ${/^[−\d]/.test(cell) ? "digits whitespace-nowrap" : ""}`}
                >
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
