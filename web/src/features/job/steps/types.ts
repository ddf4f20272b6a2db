import type { JobState, Step } from "../../../api/client";
import type { Writer } from "../useWriter";

/** A step that a simulated rig follows comes from it; all others are typed. */
export const sourceOf = (job: JobState, step: Step) =>
  job.instrument.rig && step.order && step.order !== "release" ? "simulated" : "typed";

export type StepProps = { job: JobState; step: Step; writer: Writer };

/** Nothing stands in the way of taking a value; "not steady yet" only means: try the next frame. */
export function mayTake(writer: Writer) {
  const code = writer.problem?.code;
  return !writer.sending && (code === undefined || code === "reading.not_steady");
}

/** The refusal that belongs to a field, if there is one. */
export function problemAt(writer: Writer, field: string) {
  return writer.problem?.field === field ? writer.problem : null;
}

/** A question that comes up is seen: it scrolls to where it is read. */
export const intoView = (element: HTMLElement | null) =>
  element?.scrollIntoView({ block: "nearest" });
