import { useState } from "react";
import { Reason } from "./Reason";
import { problemAt, type StepProps } from "./types";

/** The decision, with the advised one first to hand; going against the advice takes a reason. */
export function DecideStep({ job, step, writer }: StepProps) {
  const [asking, setAsking] = useState("");
  const decide = (choice: string, reason = "") =>
    void writer.send([{ kind: "decided", data: { step: step.id, choice, reason } }]);
  return (
    <ul className="grid gap-2">
      {job.judgement.choices.map((c) => (
        <li key={c.id}>
          <button
            type="button"
            autoFocus={c.recommended}
            data-main={c.recommended ? "true" : undefined}
            onClick={() => (c.needs_reason ? setAsking(c.id) : decide(c.id))}
            className={`min-h-14 w-full rounded-xl px-4 py-2.5 text-left ${c.recommended ? "bg-accent text-on-accent" : "border border-line"}`}
          >
            <span className="block text-[17px] font-semibold">
              {c.label}
              {c.recommended && " (advised)"}
            </span>
            <span className={`block text-[14px] ${c.recommended ? "" : "text-muted"}`}>
              {c.why} {c.needs_reason && "Takes a reason."}
            </span>
          </button>
          {asking === c.id && (
            <Reason
              label={`Why: ${c.label.toLowerCase()}?`}
              suggestions={c.often}
              button={c.label}
              problem={problemAt(writer, "data.reason")}
              busy={writer.sending}
              onReason={(reason) => decide(c.id, reason)}
              onCancel={() => setAsking("")}
            />
          )}
        </li>
      ))}
    </ul>
  );
}
