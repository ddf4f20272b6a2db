import type { Schemas } from "../../../api/client";

/** What was worked out for a step, from what is on record and what was measured. */
export function Computed({ lines }: { lines: Schemas["ComputedLine"][] }) {
  const results = lines.filter((line) => !line.given);
  const given = lines.filter((line) => line.given);
  if (lines.length === 0) return null;
  return (
    <div className="rounded-xl bg-sunk px-3 py-2 text-[14.5px]">
      {results.length === 0 && <p className="text-muted">The result appears once all is typed.</p>}
      <dl className="grid grid-cols-[1fr_auto] gap-x-3">
        {results.map((line) => (
          <div key={line.label} className="contents">
            <dt>{line.label}</dt>
            <dd className="digits text-right font-semibold">{line.value}</dd>
          </div>
        ))}
      </dl>
      <details className="mt-1 text-muted">
        <summary className="min-h-11 cursor-pointer py-2.5">How was this computed?</summary>
        <dl>
          {given.map((line) => (
            <div key={line.label} className="flex justify-between gap-3">
              <dt>{line.label}</dt>
              <dd className="digits text-right">{line.value}</dd>
            </div>
          ))}
        </dl>
      </details>
    </div>
  );
}
