import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { deliberate, noRepeat } from "../../../ui/deliberate";
import { command } from "../useLive";
import { Computed } from "./Computed";
import { FormAsk } from "./FormAsk";
import { MainButton } from "./MainButton";
import { entry, everyEntry, type AskProps } from "./types";

type Line = Schemas["Line"];

/** A longer line takes the whole width; what is not so of it is said beneath. */
const LONG = 34;
/** The line that is next bears the hint of its key as well. */
const LONG_WITH_KEY = 18;

/** What is so: by one press, or line by line where each is its own entry. */
export function StateAsk(props: AskProps) {
  const { job, ask, writer } = props;
  if (ask.lines.some((line) => line.sent)) return <Lines {...props} />;
  const press = async () => {
    if (ask.order && job.instrument.rig)
      await command(job.instrument.tag, { kind: ask.order.kind });
    await writer.send(everyEntry(ask));
  };
  return (
    <>
      <Listed lines={ask.lines} />
      <MainButton busy={writer.sending} onClick={() => void press()}>
        {ask.button}
      </MainButton>
    </>
  );
}

/** What one tap states, line by line. */
export function Listed({ lines }: { lines: Line[] }) {
  if (lines.length === 0) return null;
  return (
    <ul className="grid gap-1.5 rounded-xl border border-line p-3">
      {lines.map((line) => (
        <li key={line.id} className="grid grid-cols-[20px_1fr] text-[15.5px]">
          <span aria-hidden="true" className="text-muted">
            ·
          </span>
          {line.label}
        </li>
      ))}
    </ul>
  );
}

/**
 * Lines to confirm one by one, each by a tap on itself: the next line is never where the finger
 * still is. Enter confirms the next one. A line that is not so is said with what is wrong.
 */
function Lines({ job, todo, ask, writer }: AskProps) {
  const next = ask.lines.find((line) => !line.done && !line.failed);
  const main = useRef<HTMLButtonElement>(null);
  const [wrong, setWrong] = useState("");
  const form = ask.if_not.find((f) => f.line);
  const about = ask.lines.find((line) => line.id === wrong);
  // The focus goes on to the next line, so that keys alone are enough.
  useEffect(() => main.current?.focus(), [next?.id]);
  if (form && about)
    return (
      <>
        <p className="rounded-xl border border-line p-3 font-semibold">{about.label}</p>
        <FormAsk
          form={form}
          job={job.job}
          writer={writer}
          about={about.sent?.data}
          onDone={() => setWrong("")}
          onCancel={() => setWrong("")}
        />
      </>
    );
  return (
    <>
      <Computed lines={todo.computed} />
      <ul className="grid gap-2">
        {ask.lines.map((line) => (
          <li
            key={line.id}
            className={`flex justify-end gap-1.5 ${line.label.length > (line === next ? LONG_WITH_KEY : LONG) ? "flex-wrap" : ""}`}
          >
            <button
              type="button"
              role="checkbox"
              aria-checked={line.done}
              ref={line === next ? main : undefined}
              data-main={line === next ? "true" : undefined}
              disabled={line.done}
              aria-disabled={writer.sending}
              onKeyDown={noRepeat}
              onClick={(event) =>
                deliberate(event) &&
                !writer.sending &&
                line.sent &&
                void writer.send([entry(line.sent)])
              }
              className={`flex min-h-13 w-full items-center gap-3 rounded-xl border px-3 py-2 text-left disabled:opacity-100 ${line === next ? "border-2 border-accent font-semibold" : line.failed ? "border-2 border-outside" : "border-line"}`}
            >
              <Box line={line} />
              <span className="flex-1">
                {line.label}
                {line.failed && (
                  <span className="block text-[14px] font-normal text-outside">
                    No: {line.failed}. Tap when it is put right.
                  </span>
                )}
              </span>
              {line === next && (
                <kbd className="rounded bg-sunk px-2 py-0.5 text-[13px] font-normal pointer-coarse:hidden">
                  Enter
                </kbd>
              )}
            </button>
            {form && !line.done && !line.failed && (
              <Button
                className="shrink-0 px-2.5 text-[14px]"
                aria-label={`${form.button}: ${line.label}`}
                onClick={() => setWrong(line.id)}
              >
                {form.button}
              </Button>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}

function Box({ line }: { line: Line }) {
  const tone = line.done
    ? "fill-within stroke-within"
    : line.failed
      ? "fill-none stroke-outside"
      : "fill-none stroke-muted";
  return (
    <svg viewBox="0 0 20 20" className="size-6 shrink-0" aria-hidden="true">
      <rect x="1.5" y="1.5" width="17" height="17" rx="4" className={tone} strokeWidth="1.8" />
      {line.done && (
        <path d="m5 10 4 4 6.5-8" className="fill-none stroke-card" strokeWidth="2.4" />
      )}
      {line.failed && (
        <path d="M6 6 14 14 M14 6 6 14" className="fill-none stroke-outside" strokeWidth="2.2" />
      )}
    </svg>
  );
}
