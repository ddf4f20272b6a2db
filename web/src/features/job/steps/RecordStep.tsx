import { useRef, useState, type KeyboardEvent } from "react";
import { Button } from "../../../ui/Button";
import { Field } from "../../../ui/Field";
import { useAsking } from "../../../ui/ask";
import { useDraft } from "../../../ui/draft";
import type { Live } from "../useLive";
import { Computed } from "./Computed";
import { Reason } from "./Reason";
import { problemAt, type StepProps } from "./types";

/** Values to write down; each that was typed is saved by Enter. */
export function RecordStep({ job, step, writer, live }: StepProps & { live: Live }) {
  const draft = useDraft(`${job.job}:${step.id}`);
  const inputs = useRef<(HTMLInputElement | null)[]>([]);
  const [focus, setFocus] = useState("");
  const asks = step.fields.find((f) => f.id === focus && f.number);
  useAsking(
    asks
      ? {
          job: job.job,
          tag: job.instrument.tag,
          seq: job.seq,
          place: step.id,
          field: asks.id,
          label: asks.label,
          unit: asks.unit,
        }
      : null,
  );
  const question = step.fields.find((f) => f.question);
  const shown = (id: string, saved: string) => draft.values[id] ?? saved;
  const save = async () => {
    const changed = step.fields.filter((f) => {
      const value = shown(f.id, f.value);
      return value !== f.value && (value.trim() !== "" || f.required);
    });
    const missing = step.fields.find((f) => f.required && !shown(f.id, f.value).trim());
    const wanted = changed.length ? changed : missing ? [missing] : [];
    const events = wanted.map((f) => ({
      kind: "recorded",
      data: { step: step.id, field: f.id, value: shown(f.id, f.value) },
    }));
    for (const event of events) if (!(await writer.send([event]))) return;
    if (events.length) draft.clear();
  };
  const onKey = (event: KeyboardEvent, index: number) => {
    if (event.key !== "Enter") return;
    event.preventDefault();
    if (event.repeat) return;
    const next = inputs.current[index + 1];
    if (next) next.focus();
    else void save();
  };
  const problem = problemAt(writer, "data.value");
  const at = step.fields.findIndex((f) => shown(f.id, f.value) !== f.value || !f.value);
  const device = live.frame?.settings ?? {};
  const readable = step.fields.filter((f) => device[f.id] !== undefined && !f.value);
  // The question stands beside the form: a form inside a form sends neither.
  return (
    <div className="grid gap-3">
      <form
        className="grid gap-3 [&_input]:scroll-mb-24"
        onSubmit={(event) => {
          event.preventDefault();
          void save();
        }}
      >
        {readable.length > 0 && (
          <Button onClick={() => readable.forEach((f) => draft.set(f.id, device[f.id] ?? ""))}>
            Read from the device
          </Button>
        )}
        {step.fields.map((f, i) =>
          f.choices.length > 0 ? (
            <OneOf
              key={f.id}
              label={f.label}
              choices={f.choices}
              value={shown(f.id, f.value)}
              onChange={(value) => draft.set(f.id, value)}
            />
          ) : (
            <Field
              key={f.id}
              ref={(element) => {
                inputs.current[i] = element;
              }}
              autoFocus={i === 0}
              digits={f.number}
              inputMode={f.number ? "decimal" : "text"}
              label={f.required ? f.label : `${f.label} (if known)`}
              unit={f.unit}
              value={shown(f.id, f.value)}
              problem={i === at ? problem : null}
              hint={f.usual ? `on record ${f.usual} ${f.unit}` : f.hint}
              onFocus={() => setFocus(f.id)}
              onChange={(e) => draft.set(f.id, e.target.value)}
              onKeyDown={(e) => onKey(e, i)}
            />
          ),
        )}
        <Button look="main" type="submit" data-main="true" className="sticky bottom-0 z-[1]">
          Save
        </Button>
        <Computed step={step} />
      </form>
      {question && (
        <div role="alert" className="rounded-xl border-l-4 border-caution-edge bg-caution p-3">
          <p className="mb-2 font-semibold">{question.question}</p>
          <p className="mb-2 text-[14px]">
            Correct it above and save, or go on with a reason.
            {question.expected && " A planner is then asked whether the record is put right."}
          </p>
          {step.may_wait && (
            <Button
              className="mb-3 w-full font-semibold"
              onClick={() =>
                void writer.send([
                  { kind: "decided", data: { step: step.id, choice: "later", reason: "" } },
                ])
              }
            >
              Read right: bring it back after the as-found run
            </Button>
          )}
          <Reason
            label="Why go on?"
            autoFocus={false}
            suggestions={question.often}
            button="Go on with the difference"
            problem={problemAt(writer, "data.reason")}
            busy={writer.sending}
            onReason={(reason) =>
              void writer.send([
                { kind: "decided", data: { step: step.id, choice: "accept", reason } },
              ])
            }
          />
        </div>
      )}
    </div>
  );
}

type OneOfProps = {
  label: string;
  choices: string[];
  value: string;
  onChange: (value: string) => void;
};

/** A value that is one of a few. */
function OneOf({ label, choices, value, onChange }: OneOfProps) {
  return (
    <fieldset className="grid gap-1.5">
      <legend className="mb-1 text-[14px] text-muted">{label}</legend>
      {choices.map((choice) => (
        <label
          key={choice}
          className="flex min-h-11 items-center gap-2 rounded-[10px] border border-line px-3 py-1 has-checked:border-accent has-checked:bg-accent-soft"
        >
          <input
            type="radio"
            name={label}
            checked={value === choice}
            onChange={() => onChange(choice)}
          />
          {choice}
        </label>
      ))}
    </fieldset>
  );
}
