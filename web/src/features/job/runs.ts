import type { JobState, RunState, Schemas } from "../../api/client";

/** All runs of a job, in the order in which its steps take them. */
export const runsOf = (job: JobState): RunState[] => {
  const place = (run: RunState) => job.steps.findIndex((s) => s.run === run.id);
  const all = [job.as_found, ...(job.as_left ? [job.as_left] : []), ...job.extra_runs];
  return all.sort((a, b) => place(a) - place(b));
};

/** The run that is read now, where one is. */
export const readNow = (job: JobState, todo: Schemas["Task"] | undefined): RunState | undefined => {
  const run = todo?.asks.find((ask) => ask.way === "read")?.sends?.data.run;
  return runsOf(job).find((r) => r.id === run);
};
