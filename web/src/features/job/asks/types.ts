import type { JobState, RunState, Schemas } from "../../../api/client";
import type { Live } from "../useLive";
import type { NewEvent, Writer } from "../useWriter";

export type Ask = Schemas["Ask"];
export type Form = Schemas["Form"];
export type Task = Schemas["Task"];
export type Sent = Schemas["Sent"];

/** What every way of asking is drawn with. */
export type AskProps = {
  job: JobState;
  todo: Task;
  ask: Ask;
  writer: Writer;
  live: Live;
  /** The run that is read now; as found where none is. */
  run: RunState;
  onTaken: () => void;
};

/** An entry as it stands in an ask, with what a person or a rig adds to it. */
export const entry = (sent: Sent, more: Record<string, unknown> = {}): NewEvent => ({
  kind: sent.kind,
  source: sent.source,
  data: { ...sent.data, ...more },
});

/** Everything that an ask says when it is pressed: its own entry and those that go with it. */
export const everyEntry = (ask: Ask): NewEvent[] =>
  [...(ask.sends ? [ask.sends] : []), ...ask.also].map((sent) => entry(sent));

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
