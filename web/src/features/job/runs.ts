import type { JobState, RunState, Step } from "../../api/client";

/** All runs of a job, in the order in which its steps take them. */
export const runsOf = (job: JobState): RunState[] => {
  const place = (run: RunState) => job.steps.findIndex((s) => s.run === run.id);
  const all = [job.as_found, ...(job.as_left ? [job.as_left] : []), ...job.extra_runs];
  return all.sort((a, b) => place(a) - place(b));
};

/** The run that a step takes; as found where it takes none. */
export const runOf = (job: JobState, step: Step | undefined): RunState =>
  runsOf(job).find((r) => r.id === step?.run) ?? job.as_found;
