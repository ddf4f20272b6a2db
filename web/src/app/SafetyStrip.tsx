import { queryOptions, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { client, unwrap, type Schemas } from "../api/client";
import { clock, elapsed, useNow } from "../ui/time";

type On = Schemas["OnOut"];

export const safetyQuery = queryOptions({
  queryKey: ["safety"] as const,
  queryFn: async ({ signal }) => unwrap(client.GET("/api/safety", { signal })),
  refetchInterval: 3000,
});

/** What is in bypass, connected or being waited for, on every page. It never scrolls away. */
export function SafetyStrip({ onKeys }: { onKeys: () => void }) {
  const safety = useQuery(safetyQuery);
  const now = useNow();
  const items = safety.data?.items ?? [];
  const bypassed = items.filter((i) => i.kind === "bypass");
  const fixed = items.filter((i) => i.kind === "fixed");
  const connected = items.filter((i) => i.kind === "connection" || i.kind === "adapter");
  const gas = items.filter((i) => i.kind === "gas");
  const out = items.filter((i) => i.kind === "out");
  const timers = items.filter((i) => i.kind === "timer");
  const lost = safety.isError;
  return (
    <footer
      aria-label="Safety strip"
      className={`flex min-h-11 flex-wrap items-center gap-x-3 gap-y-1 px-4 py-1 text-[15px] text-white md:col-span-2 ${bypassed.length || fixed.length || gas.length ? "bg-strip" : "bg-strip-calm"}`}
    >
      {lost && (
        <strong role="status" className="rounded-lg bg-white px-2 py-0.5 text-[#8c1d18]">
          No connection: shown as last known
        </strong>
      )}
      <Group label={inBypass(bypassed)} items={bypassed} now={now} none="Nothing in bypass" />
      {gas.length > 0 && <Group label="Gas open" items={gas} now={now} none="" />}
      {fixed.length > 0 && <Group label="Fixed current" items={fixed} now={now} none="" />}
      {connected.length > 0 && <Group label="Connected" items={connected} now={now} none="" />}
      {out.length > 0 && <Group label="Out of service" items={out} now={now} none="" />}
      {timers.length > 0 && <Group label="Timers" items={timers} now={now} none="" />}
      <button
        type="button"
        onClick={onKeys}
        className="ml-auto min-h-9 rounded-lg px-2 hover:bg-white/10"
      >
        <kbd>?</kbd> keys
      </button>
    </footer>
  );
}

const inBypass = (items: On[]) => (items.length > 1 ? `In bypass: ${items.length}` : "In bypass");

/** How long these are on is not counted by the second. */
const UNTIMED = ["connection", "adapter", "out"];

type GroupProps = { label: string; items: On[]; now: number; none: string };

function Group({ label, items, now, none }: GroupProps) {
  if (items.length === 0) return <span>{none}</span>;
  return (
    <div className="flex flex-wrap items-center gap-1.5">
      <strong>{label}</strong>
      {items.map((item) => (
        <Link
          key={`${item.job}${item.label}${item.kind}`}
          to={`/jobs/${item.job}`}
          title={item.label}
          className={`rounded-lg px-2 py-1 ${item.urgent ? "bg-white font-bold text-[#8c1d18]" : "bg-white/15 hover:bg-white/25"}`}
        >
          {item.tag}
          {!UNTIMED.includes(item.kind) && <span className="digits"> {shown(item, now)}</span>}
          {item.urgent && ` over ${item.limit_minutes} min`}
        </Link>
      ))}
    </div>
  );
}

function shown(item: On, now: number) {
  if (item.kind === "timer") return clock(Date.parse(item.ends_at) - now);
  return elapsed(now - Date.parse(item.since));
}
