import { useRef, useState, type KeyboardEvent } from "react";
import { Button } from "../../../ui/Button";
import { Field } from "../../../ui/Field";
import { useAsking } from "../../../ui/ask";
import { useDraft } from "../../../ui/draft";
import { Computed } from "./Computed";
import { entry, problemAt, type AskProps } from "./types";

/** Values to write down, each an entry of its own; Enter moves on, the last one saves. */
export function TellAsk({ job, todo, ask, writer, live }: AskProps) {
  const draft = useDraft(`${job.job}:${ask.id}`);
  const inputs = useRef<(HTMLInputElement | null)[]>([]);
  const [focus, setFocus] = useState("");
  const asks = ask.values.find((v) => v.id === focus && v.number);
  useAsking(
    asks
      ? {
          job: job.job,
          tag: job.instrument.tag,
          seq: job.seq,
          place: ask.id,
          field: asks.id,
          label: asks.label,
          unit: asks.unit,
        }
      : null,
  );
  const shown = (id: string, saved: string) => draft.values[id] ?? saved;
  const save = async () => {
    const changed = ask.values.filter((v) => {
      const value = shown(v.id, v.value);
      return value !== v.value && (value.trim() !== "" || v.required);
    });
    const missing = ask.values.find((v) => v.required && !v.untold && !shown(v.id, v.value).trim());
    const wanted = changed.length ? changed : missing ? [missing] : [];
    for (const v of wanted) {
      const said = { [ask.key]: v.id, value: shown(v.id, v.value) };
      if (!ask.sends || !(await writer.send([entry(ask.sends, said)]))) return;
    }
    if (wanted.length) draft.clear();
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
  const at = ask.values.findIndex((v) => shown(v.id, v.value) !== v.value || !v.value);
  const device = live.frame?.settings ?? {};
  const readable = ask.values.filter((v) => device[v.id] !== undefined && !v.value);
  return (
    <form
      className="grid gap-3 [&_input]:scroll-mb-24"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      {readable.length > 0 && (
        <Button onClick={() => readable.forEach((v) => draft.set(v.id, device[v.id] ?? ""))}>
          Read from the device
        </Button>
      )}
      {ask.values.map((v, i) =>
        v.choices.length > 0 ? (
          <OneOf
            key={v.id}
            label={v.label}
            choices={v.choices}
            value={shown(v.id, v.value)}
            onChange={(value) => draft.set(v.id, value)}
          />
        ) : (
          <Field
            key={v.id}
            ref={(element) => {
              inputs.current[i] = element;
            }}
            autoFocus={i === 0}
            digits={v.number}
            inputMode={v.number ? "decimal" : "text"}
            label={v.required && !v.untold ? v.label : `${v.label} (if known)`}
            unit={v.unit}
            value={shown(v.id, v.value)}
            problem={i === at ? problem : null}
            hint={
              v.untold
                ? `not told: ${v.untold}`
                : v.usual
                  ? `on record ${v.usual} ${v.unit}`
                  : v.hint
            }
            onFocus={() => setFocus(v.id)}
            onChange={(e) => draft.set(v.id, e.target.value)}
            onKeyDown={(e) => onKey(e, i)}
          />
        ),
      )}
      <Button look="main" type="submit" data-main="true" className="sticky bottom-0 z-[1]">
        {ask.button}
      </Button>
      <Computed lines={todo.computed} />
    </form>
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
