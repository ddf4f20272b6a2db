import type { Problem } from "../../api/client";

/** One entry as it was made: when by the clock on the wall, and by the one that never jumps. */
export type Entry = {
  id: string;
  kind: string;
  data: Record<string, unknown>;
  source: "typed" | "simulated";
  wall: string;
  steady: number;
  boot: string;
};
/** Entries that belong together: stored whole or not at all. Refused ones stay, with why. */
export type Group = { entries: Entry[]; problem?: Problem };

/** The steady clock counts from when the page was loaded; another load is another clock. */
const BOOT = newId();

export function newId() {
  const b = crypto.getRandomValues(new Uint8Array(16));
  b[6] = ((b[6] ?? 0) & 0x0f) | 0x40;
  b[8] = ((b[8] ?? 0) & 0x3f) | 0x80;
  const hex = Array.from(b, (x) => x.toString(16).padStart(2, "0")).join("");
  return hex.replace(/^(.{8})(.{4})(.{4})(.{4})/, "$1-$2-$3-$4-");
}

const place = (person: string, job: string) => `outbox:${person}:${job}`;

/** What waits on this device: of one person, for one job, in the order it was made. */
export function waitingFor(person: string, job: string): Group[] {
  try {
    return JSON.parse(localStorage.getItem(place(person, job)) ?? "[]") as Group[];
  } catch {
    return [];
  }
}

export function keep(person: string, job: string, groups: Group[]) {
  if (groups.length) localStorage.setItem(place(person, job), JSON.stringify(groups));
  else localStorage.removeItem(place(person, job));
}

/** Others whose entries for a job wait on this device until they sign in again. */
export function othersWaiting(person: string, job: string): string[] {
  const found = [];
  for (let i = 0; i < localStorage.length; i += 1) {
    const [kind, who, number] = (localStorage.key(i) ?? "").split(":");
    if (kind === "outbox" && who && who !== person && number === job) found.push(who);
  }
  return found;
}

/** All that waits on this device, of whoever and for whatever job, in words. */
export function keptHere() {
  const found = [];
  for (let i = 0; i < localStorage.length; i += 1) {
    const [kind, person, job] = (localStorage.key(i) ?? "").split(":");
    if (kind !== "outbox" || !person || !job) continue;
    const lines = waitingFor(person, job)
      .flatMap((g) => g.entries)
      .map((e) => `${e.kind.replace("_", " ")}: ${Object.values(e.data).join(", ")}`);
    found.push({ person, job, lines });
  }
  return found;
}

export function made(kind: string, data: Record<string, unknown>, source: Entry["source"]): Entry {
  const wall = new Date().toISOString();
  return { id: newId(), kind, data, source, wall, steady: performance.now(), boot: BOOT };
}

/** An entry as the server takes it: how old it is, or only what the clock showed back then. */
export function toSend({ wall, steady, boot, ...entry }: Entry) {
  const age = boot === BOOT ? Math.max(0, (performance.now() - steady) / 1000) : null;
  return { ...entry, at: wall, age_s: age };
}
