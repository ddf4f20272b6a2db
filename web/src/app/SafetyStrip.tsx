import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { queryOptions, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { client, unwrap, type Schemas } from "../api/client";
import { clock, elapsed, useNow } from "../ui/time";

type On = Schemas["OnOut"];

export const safetyQuery = queryOptions({
  queryKey: ["safety"] as const,
  queryFn: async ({ signal }) => unwrap(client.GET("/api/v1/safety", { signal })),
  refetchInterval: 3000,
});

/** Each instrument once, with what is on there, in the order in which the server names them. */
function byInstrument(items: On[]): On[][] {
  const groups = new Map<string, On[]>();
  for (const item of items) groups.set(item.tag, [...(groups.get(item.tag) ?? []), item]);
  return [...groups.values()];
}

/** What is in bypass, connected or being waited for, on every page, in one line; all in a tap. */
type Props = { onFind: () => void; onKeys: () => void };

export function SafetyStrip({ onFind, onKeys }: Props) {
  const safety = useQuery(safetyQuery);
  const now = useNow();
  const items = safety.data?.items ?? [];
  const groups = byInstrument(items);
  const grave = items.some((i) => i.grave);
  return (
    <footer
      aria-label="Safety strip"
      className={`flex min-h-13 items-center gap-2 px-3 py-1 text-[15px] md:col-span-2 ${grave ? "bg-strip text-white" : items.length ? "bg-strip-calm text-white" : "border-t border-line bg-card text-muted"}`}
    >
      {safety.isError && (
        <strong role="status" className="rounded-lg bg-white px-2 py-0.5 text-[#8c1d18]">
          No connection<span className="max-md:sr-only">: shown as last known</span>
        </strong>
      )}
      {groups.length === 0 && <span>Nothing is on or connected</span>}
      {groups.length > 0 && (
        <>
          <All groups={groups} now={now} />
          <div className="flex h-11 min-w-0 flex-1 flex-wrap gap-1.5 overflow-hidden">
            {groups.map((group) => (
              <Chip key={group[0]?.tag} group={group} now={now} />
            ))}
          </div>
        </>
      )}
      <button
        type="button"
        onClick={onFind}
        className="ml-auto min-h-11 min-w-11 shrink-0 rounded-lg px-2 hover:bg-white/10"
      >
        <kbd className="max-md:hidden">f</kbd> find
      </button>
      <button
        type="button"
        onClick={onKeys}
        aria-label="Keys"
        className="min-h-11 min-w-11 shrink-0 rounded-lg px-2 hover:bg-white/10 max-md:hidden"
      >
        <kbd>?</kbd> keys
      </button>
    </footer>
  );
}

/** Everything that is on, line by line, above the strip. */
function All({ groups, now }: { groups: On[][]; now: number }) {
  return (
    <Popover className="shrink-0">
      <PopoverButton className="min-h-11 rounded-lg bg-white/15 px-3 font-semibold hover:bg-white/25">
        {groups.length} {groups.length > 1 ? "instruments" : "instrument"}
      </PopoverButton>
      <PopoverPanel
        anchor={{ to: "top start", gap: 8 }}
        className="z-20 max-h-[70vh] w-[min(560px,94vw)] overflow-auto rounded-2xl border border-line bg-card p-2 text-ink shadow-xl"
      >
        {({ close }) => (
          <ul>
            {groups.flat().map((item) => (
              <li key={`${item.job}${item.label}${item.kind}`}>
                <Link
                  to={`/jobs/${item.job}`}
                  onClick={() => close()}
                  className="flex min-h-11 items-center gap-3 rounded-lg px-3 py-1.5 hover:bg-sunk"
                >
                  <strong className="shrink-0">{item.tag}</strong>
                  <span className="min-w-0 flex-1">{item.label}</span>
                  <span className={`digits ${item.urgent ? "font-bold text-outside" : ""}`}>
                    {shown(item, now)}
                    {item.urgent && ` over ${item.limit_minutes} min`}
                  </span>
                </Link>
              </li>
            ))}
          </ul>
        )}
      </PopoverPanel>
    </Popover>
  );
}

function Chip({ group, now }: { group: On[]; now: number }) {
  const [first] = group;
  if (!first) return null;
  const urgent = group.find((i) => i.urgent);
  const kinds = [...new Set(group.map((i) => i.said))];
  const waits = group.find((i) => i.kind === "timer");
  const timed = urgent ?? waits ?? first;
  return (
    <Link
      to={`/jobs/${first.job}`}
      title={group.map((i) => i.label).join(", ")}
      className={`flex h-11 items-center gap-2 rounded-lg px-3 whitespace-nowrap ${urgent ? "bg-white font-bold text-[#8c1d18]" : "bg-white/15 hover:bg-white/25"}`}
    >
      <strong>{first.tag}</strong>
      <span className="max-sm:sr-only">{kinds.join(", ")}</span>
      <span className="digits">{shown(timed, now)}</span>
      {urgent && <span>over {urgent.limit_minutes} min</span>}
    </Link>
  );
}

function shown(item: On, now: number) {
  if (!item.timed) return "";
  if (item.kind === "timer") return clock(Date.parse(item.ends_at) - now);
  return elapsed(now - Date.parse(item.since));
}
