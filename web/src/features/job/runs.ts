import type { JobState, RunState, Step } from "../../api/client";

/** All runs of a job, in the order in which they are taken. */
export const runsOf = (job: JobState): RunState[] => [
  job.as_found,
  ...job.extra_runs.filter((r) => r.id === "loop_check"),
  job.as_left,
  ...job.extra_runs.filter((r) => r.id !== "loop_check"),
];

/** The run that a step takes; as found where it takes none. */
export const runOf = (job: JobState, step: Step | undefined): RunState =>
  runsOf(job).find((r) => r.id === step?.run) ?? job.as_found;
