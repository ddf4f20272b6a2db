import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { deliberate, noRepeat } from "../../../ui/deliberate";
import { AskedStep } from "./AskedStep";
import { Computed } from "./Computed";
import { Reason } from "./Reason";
import { problemAt, sourceOf, type StepProps } from "./types";

type Item = Schemas["ItemState"];

/** A longer line takes the whole width; what is not so of it is said beneath. */
const LONG = 34;
/** The line that is next bears the hint of its key as well. */
const LONG_WITH_KEY = 18;

/**
 * Lines to confirm one by one, each by a tap on itself: the next line is never where the finger
 * still is. Enter confirms the next one. A line that is not so is said with what is wrong.
 */
export function ChecklistStep({ job, step, writer }: StepProps) {
  const next = step.items.find((item) => !item.done && !item.failed);
  const main = useRef<HTMLButtonElement>(null);
  const [wrong, setWrong] = useState("");
  const [without, setWithout] = useState(false);
  const form = job.mishaps.find((m) => m.kind === "line_failed");
  const about = step.items.find((item) => item.id === wrong);
  // The focus goes on to the next line, so that keys alone are enough.
  useEffect(() => main.current?.focus(), [next?.id]);
  if (form && about)
    return (
      <>
        <p className="rounded-xl border border-line p-3 font-semibold">{about.label}</p>
        <AskedStep
          asked={form}
          job={job.job}
          writer={writer}
          about={{ step: step.id, item: about.id }}
          onDone={() => setWrong("")}
          onCancel={() => setWrong("")}
        />
      </>
    );
  const confirm = (item: string) =>
    void writer.send([
      { kind: "confirmed", source: sourceOf(job, step), data: { step: step.id, item } },
    ]);
  return (
    <>
      <Computed step={step} />
      <ul className="grid gap-2">
        {step.items.map((item) => (
          <li
            key={item.id}
            className={`flex justify-end gap-1.5 ${item.label.length > (item === next ? LONG_WITH_KEY : LONG) ? "flex-wrap" : ""}`}
          >
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
              className={`flex min-h-13 w-full items-center gap-3 rounded-xl border px-3 py-2 text-left disabled:opacity-100 ${item === next ? "border-2 border-accent font-semibold" : item.failed ? "border-2 border-outside" : "border-line"}`}
            >
              <Box item={item} />
              <span className="flex-1">
                {item.label}
                {item.failed && (
                  <span className="block text-[14px] font-normal text-outside">
                    Not so: {item.failed}. Tap when it is put right.
                  </span>
                )}
              </span>
              {item === next && (
                <kbd className="rounded bg-sunk px-2 py-0.5 text-[13px] font-normal pointer-coarse:hidden">
                  Enter
                </kbd>
              )}
            </button>
            {form && !item.done && !item.failed && (
              <Button
                className="shrink-0 px-2.5 text-[14px]"
                aria-label={`${form.button}: ${item.label}`}
                onClick={() => setWrong(item.id)}
              >
                {form.button}
              </Button>
            )}
          </li>
        ))}
      </ul>
      {step.may_go_without &&
        (without ? (
          <Reason
            label="Why does the job go on without it?"
            suggestions={["What else is wrong is to be known", "Ordered; it comes later"]}
            button="Go on without it"
            problem={problemAt(writer, "data.reason")}
            busy={writer.sending}
            onReason={(reason) =>
              void writer.send([
                { kind: "decided", data: { step: step.id, choice: "without", reason } },
              ])
            }
            onCancel={() => setWithout(false)}
          />
        ) : (
          <Button onClick={() => setWithout(true)}>Go on without it</Button>
        ))}
    </>
  );
}

function Box({ item }: { item: Item }) {
  const tone = item.done
    ? "fill-within stroke-within"
    : item.failed
      ? "fill-none stroke-outside"
      : "fill-none stroke-muted";
  return (
    <svg viewBox="0 0 20 20" className="size-6 shrink-0" aria-hidden="true">
      <rect x="1.5" y="1.5" width="17" height="17" rx="4" className={tone} strokeWidth="1.8" />
      {item.done && (
        <path d="m5 10 4 4 6.5-8" className="fill-none stroke-card" strokeWidth="2.4" />
      )}
      {item.failed && (
        <path d="M6 6 14 14 M14 6 6 14" className="fill-none stroke-outside" strokeWidth="2.2" />
      )}
    </svg>
  );
}
