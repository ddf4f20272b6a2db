import { useState } from "react";
import { JudgementBox } from "../JudgementBox";
import { runsOf } from "../runs";
import { FormAsk } from "./FormAsk";
import { MainButton } from "./MainButton";
import { Reason } from "./Reason";
import { entry, problemAt, type AskProps } from "./types";

/**
 * One of several: the advised one first and large, the others below in a line each, so that all of
 * them are in sight. Going against the advice takes a reason.
 */
export function ChooseOption({ job, ask, writer }: AskProps) {
  const advised = ask.options.find((c) => c.recommended);
  const others = ask.options.filter((c) => c !== advised);
  const [asking, setAsking] = useState("");
  const asked = ask.options.find((c) => c.id === asking);
  // Verdict, cause and remedy come before what is decided by them.
  const run = runsOf(job).find((r) => r.id === job.judgement.run);
  const form = job.mishaps.find((m) => m.kind === asked?.form);
  const decide = (choice: string, reason = "") =>
    ask.sends && void writer.send([entry(ask.sends, { [ask.key]: choice, reason })]);
  const press = (c: (typeof others)[number]) =>
    c.needs_reason || c.form ? setAsking(c.id) : decide(c.id);
  if (form)
    return (
      <>
        <p className="text-[15px] text-muted">{form.why}</p>
        <FormAsk form={form} job={job.job} writer={writer} onCancel={() => setAsking("")} />
      </>
    );
  if (asked)
    return (
      <>
        <p className="text-[15px] text-muted">{asked.why}</p>
        <Reason
          label={`Why: ${asked.label.toLowerCase()}?`}
          suggestions={asked.often}
          button={asked.label}
          problem={problemAt(writer, "data.reason")}
          busy={writer.sending}
          onReason={(reason) => decide(asked.id, reason)}
          onCancel={() => setAsking("")}
        />
      </>
    );
  return (
    <>
      {run && <JudgementBox job={job} run={run} brief />}
      {advised && (
        <>
          <MainButton busy={writer.sending} inText onClick={() => press(advised)}>
            {advised.label} (advised)
          </MainButton>
          <p className="-mt-1 text-[14px] text-muted">
            {advised.why} {advised.needs_reason && "Takes a reason."}
          </p>
        </>
      )}
      <ul
        className="grid grid-cols-2 gap-1.5"
        aria-label="Other decisions, each with a reason where asked"
      >
        {others.map((c) => (
          <li key={c.id} className="flex">
            <button
              type="button"
              aria-disabled={writer.sending}
              title={c.why}
              onClick={() => !writer.sending && press(c)}
              className="min-h-11 w-full rounded-xl border border-line px-3 py-1.5 text-left text-[15px] leading-snug font-semibold"
            >
              {c.label}
              <span className="block text-[13.5px] font-normal text-muted">
                {c.needs_reason ? "takes a reason" : c.why}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}
