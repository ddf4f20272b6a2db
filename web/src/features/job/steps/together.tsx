import type { JobState, Schemas } from "../../../api/client";
import type { NewEvent } from "../useWriter";

type Together = Schemas["Together"];

/** What one tap states, line by line. */
export function Lines({ together }: { together: Together }) {
  return (
    <ul className="grid gap-1.5 rounded-xl border border-line p-3">
      {together.lines.map((line) => (
        <li key={line} className="grid grid-cols-[20px_1fr] text-[15.5px]">
          <span aria-hidden="true" className="text-muted">
            ·
          </span>
          {line}
        </li>
      ))}
    </ul>
  );
}

/** The entries behind one tap. */
export function eventsOf(job: JobState): NewEvent[] {
  const source = job.instrument.rig ? "simulated" : "typed";
  return (job.together?.events ?? []).map((e): NewEvent => {
    return { kind: e.kind, data: e.data, source: e.kind === "recorded" ? "typed" : source };
  });
}

/** The entries that take a detector of a round out of bypass: all that is left, or the last one. */
export const outOf = (job: JobState): NewEvent[] =>
  job.together
    ? eventsOf(job)
    : [{ kind: "taken_off", data: { step: job.current_step }, source: "typed" }];
