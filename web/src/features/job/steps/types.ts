import type { JobState, Step } from "../../../api/client";
import type { Writer } from "../useWriter";

export type StepProps = { job: JobState; step: Step; writer: Writer };

/** The refusal that belongs to a field, if there is one. */
export function problemAt(writer: Writer, field: string) {
  return writer.problem?.field === field ? writer.problem : null;
}
