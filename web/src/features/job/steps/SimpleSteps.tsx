import { useState } from "react";
import { Button } from "../../../ui/Button";
import { clock, useNow } from "../../../ui/time";
import { command } from "../useLive";
import { MainButton } from "./MainButton";
import { Reason } from "./Reason";
import { problemAt, sourceOf, type StepProps } from "./types";

/** Something goes on, or comes off again. */
export function OnOffStep({ job, step, writer }: StepProps) {
  const kind = step.kind === "put_on" ? "put_on" : "taken_off";
  const done = async () => {
    if (step.order === "release" && job.instrument.rig)
      await command(job.instrument.tag, { kind: "release" });
    await writer.send([{ kind, source: sourceOf(job, step), data: { step: step.id } }]);
  };
  return (
    <MainButton busy={writer.sending} onClick={() => void done()}>
      {kind === "put_on" ? "Done: it is on" : "Done: it is off"}
    </MainButton>
  );
}

/** A wait with its countdown; it can be passed over with a reason. */
export function TimerStep({ step, writer }: StepProps) {
  const [waiving, setWaiving] = useState(false);
  const now = useNow();
  const left = step.timer_ends_at ? Date.parse(step.timer_ends_at) - now : 0;
  return (
    <>
      {step.timer_ends_at ? (
        <div className="rounded-xl bg-live px-4 py-3 text-live-ink">
          <p className="digits text-[44px] leading-none font-semibold" role="timer">
            {clock(left)}
          </p>
          <p className="mt-2 text-[14px] text-live-muted">left of {step.timer_minutes} min</p>
        </div>
      ) : (
        <MainButton
          busy={writer.sending}
          onClick={() => void writer.send([{ kind: "timer_started", data: { step: step.id } }])}
        >
          Start {step.timer_minutes} min
        </MainButton>
      )}
      {waiving ? (
        <Reason
          label="Why is no wait needed?"
          suggestions={step.often}
          button="Go on without waiting"
          problem={problemAt(writer, "data.reason")}
          busy={writer.sending}
          onReason={(reason) =>
            void writer.send([{ kind: "timer_waived", data: { step: step.id, reason } }])
          }
          onCancel={() => setWaiving(false)}
        />
      ) : (
        <Button onClick={() => setWaiving(true)}>No wait is needed</Button>
      )}
    </>
  );
}
