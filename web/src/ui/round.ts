import { useState } from "react";

/** Detectors that are checked one after the other, with one signature at the end. */
type Round = { tags: string[]; jobs: string[] };
const PLACE = "round";

function kept(): Round | null {
  try {
    return JSON.parse(sessionStorage.getItem(PLACE) ?? "null") as Round | null;
  } catch {
    return null;
  }
}

export function startRound(tags: string[]) {
  sessionStorage.setItem(PLACE, JSON.stringify({ tags, jobs: [] } satisfies Round));
}

export const endRound = () => sessionStorage.removeItem(PLACE);

/** The round that a detector belongs to; nothing where it is checked by itself. */
export function useRound(tag: string, job: string) {
  const [round] = useState(() => {
    const found = kept();
    if (!found?.tags.includes(tag)) return null;
    if (!found.jobs.includes(job)) {
      found.jobs.push(job);
      sessionStorage.setItem(PLACE, JSON.stringify(found));
    }
    return found;
  });
  const place = round ? round.tags.indexOf(tag) : -1;
  return {
    active: round !== null,
    place: place + 1,
    total: round?.tags.length ?? 0,
    next: round?.tags[place + 1] ?? "",
    jobs: round?.jobs ?? [],
    end: endRound,
  };
}

export type InRound = ReturnType<typeof useRound>;
