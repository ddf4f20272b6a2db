import { useEffect, useRef, useState } from "react";
import type { JobState, Step } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { deliberate, noRepeat } from "../../../ui/deliberate";
import { clock, useNow } from "../../../ui/time";
import { command } from "../useLive";
import { Computed } from "./Computed";
import { MainButton } from "./MainButton";
import { Reason } from "./Reason";
import { problemAt, type StepProps } from "./types";

/** A step that a simulated rig follows comes from it; all others are typed. */
const sourceOf = (job: JobState, step: Step) =>
  job.instrument.rig && step.order && step.order !== "release" ? "simulated" : "typed";

/**
 * Lines to confirm one by one, each by a tap on itself: the next line is never where the finger
 * still is. Enter confirms the next one.
 */
export function ChecklistStep({ job, step, writer }: StepProps) {
  const next = step.items.find((item) => !item.done);
  const main = useRef<HTMLButtonElement>(null);
  // The focus goes on to the next line, so that keys alone are enough.
  useEffect(() => main.current?.focus(), [next?.id]);
  const confirm = (item: string) =>
    void writer.send([
      { kind: "confirmed", source: sourceOf(job, step), data: { step: step.id, item } },
    ]);
  return (
    <>
      <Computed step={step} />
      <ul className="grid gap-2">
        {step.items.map((item) => (
          <li key={item.id}>
            <button
              type="button"
              role="checkbox"
              aria-checked={item.done}
              ref={item === next ? main : undefined}
              data-main={item === next ? "true" : undefined}
              disabled={item.done}
              aria-disabled={writer.sending}
              onKeyDown={noRepeat}
              onClick={(event) => deliberate(event) && !writer.sending && confirm(item.id)}
              className={`flex min-h-13 w-full items-center gap-3 rounded-xl border px-3 py-2 text-left disabled:opacity-100 ${item === next ? "border-2 border-accent font-semibold" : "border-line"}`}
            >
              <svg viewBox="0 0 20 20" className="size-6 shrink-0" aria-hidden="true">
                <rect
                  x="1.5"
                  y="1.5"
                  width="17"
                  height="17"
                  rx="4"
                  className={item.done ? "fill-within stroke-within" : "fill-none stroke-muted"}
                  strokeWidth="1.8"
                />
                {item.done && (
                  <path d="m5 10 4 4 6.5-8" className="fill-none stroke-card" strokeWidth="2.4" />
                )}
              </svg>
              <span className="flex-1">{item.label}</span>
              {item === next && (
                <kbd className="rounded bg-sunk px-2 py-0.5 text-[13px] font-normal pointer-coarse:hidden">
                  Enter
                </kbd>
              )}
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}

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
          suggestions={["In service and powered for hours", "References warm since this morning"]}
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
