import type { JobState } from "../../../api/client";
import type { NewEvent } from "../useWriter";
import { everyEntry } from "./types";

/** The entries that take an instrument of a round out of bypass: all that is left, or the last. */
export function outOf(job: JobState): NewEvent[] {
  const todo = job.tasks[0];
  const ask = todo?.together ?? todo?.asks[0];
  return ask ? everyEntry(ask) : [];
}
