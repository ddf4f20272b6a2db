import { moment } from "../../ui/time";
import type { Instrument } from "./api";

/** What the device does by itself while nobody is there, as its own log says. */
export function ByItself({ i }: { i: Instrument }) {
  const log = i.by_itself;
  if (!log) return null;
  const shown = [...new Map([...log.last, ...log.bad].map((one) => [one.at, one])).values()];
  return (
    <section aria-label={log.label} className="rounded-2xl border border-line bg-card p-4">
      <h2 className="font-semibold">
        {log.label}{" "}
        <span className="text-[14px] font-normal text-muted">
          every <span className="digits">{log.every}</span>, unattended
        </span>
      </h2>
      {log.late && (
        <p className="mt-2 rounded-xl bg-caution px-3 py-2">
          <strong>None came when it was due.</strong> Look at its zero gas, and whether it is held
          in test.
        </p>
      )}
      <p className="mt-1 text-[14.5px] text-muted">
        {log.count === 0
          ? "None is in its log yet."
          : `${log.count} in its log since ${log.since}, each with what it put right.`}
      </p>
      <ul className="mt-2 grid gap-1">
        {shown.map((one) => (
          <li key={one.at} className="flex flex-wrap gap-x-3 text-[15px]">
            <span className="digits text-muted">{moment(one.at)}</span>
            <span className={one.good ? "" : "font-semibold text-outside"}>{one.text}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
