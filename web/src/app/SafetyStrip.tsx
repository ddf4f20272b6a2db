import { queryOptions, useQuery } from "@tanstack/react-query";
import { Link, useLocation } from "react-router";
import { client, unwrap } from "../api/client";
import { quietPart } from "../ui/part";
import { useNow } from "../ui/time";
import { ALL, counted, shown, type On } from "./on";

// Its panel comes with what places it, when nothing else is to do; until then it only counts.
const AllOn = quietPart(
  () => import("./AllOn"),
  ({ groups }) => <span className={ALL}>{counted(groups.length)}</span>,
);

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
  // What is on at the instrument in hand comes first, and is named before all others are counted.
  const { pathname } = useLocation();
  const hand = groups.find((group) => group.some((i) => pathname === `/jobs/${i.job}`));
  const others = groups.filter((group) => group !== hand);
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
          {hand && <Chip group={hand} now={now} here />}
          <AllOn groups={groups} now={now} />
          <div className="flex h-11 min-w-0 flex-1 flex-wrap gap-1.5 overflow-hidden">
            {others.map((group) => (
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

type ChipProps = { group: On[]; now: number; here?: boolean };

function Chip({ group, now, here = false }: ChipProps) {
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
      className={`flex h-11 items-center gap-2 rounded-lg px-3 whitespace-nowrap ${here ? "shrink-0 border-2" : ""} ${urgent ? "bg-white font-bold text-[#8c1d18]" : "bg-white/15 hover:bg-white/25"}`}
    >
      <strong>{first.tag}</strong>
      <span className="max-sm:sr-only">{kinds.join(", ")}</span>
      <span className="digits">{shown(timed, now)}</span>
      {urgent && <span>over {urgent.limit_minutes} min</span>}
    </Link>
  );
}
