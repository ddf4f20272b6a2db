import type { Schemas } from "../api/client";
import { clock, elapsed } from "../ui/time";

export type On = Schemas["OnOut"];

/** How the button of all that is on looks. */
export const ALL =
  "flex min-h-11 shrink-0 items-center rounded-lg bg-white/15 px-3 font-semibold hover:bg-white/25";

export const counted = (n: number) => `${n} ${n > 1 ? "instruments" : "instrument"}`;

/** How long something is on, or how long is still to wait. */
export function shown(item: On, now: number) {
  if (!item.timed) return "";
  if (item.kind === "timer") return clock(Date.parse(item.ends_at) - now);
  return elapsed(now - Date.parse(item.since));
}
