import { useRef, useState, type KeyboardEvent } from "react";
import type { Column, JobState } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { Field } from "../../../ui/Field";
import { useDraft } from "../useDraft";
import type { NewEvent, Writer } from "../useWriter";
import { NumberPad } from "./NumberPad";

type Props = {
  job: JobState;
  writer: Writer;
  columns: readonly Column[];
  place: string;
  button: string;
  event: (values: Record<string, unknown>) => NewEvent;
  /** Sent together with it. */
  also?: NewEvent[];
  onStored?: () => void;
};

/** Readings typed in: Enter moves on, the last one takes them. A slip is asked about. */
export function TypedValues(props: Props) {
  const { job, writer, columns, place, button, event, also = [], onStored } = props;
  const fields = columns.map((c) => c.id);
  const needed = new Set(columns.filter((c) => c.required).map((c) => c.id));
  const draft = useDraft(`${job.job}:${place}`);
  const inputs = useRef<Record<string, HTMLInputElement | null>>({});
  const [focus, setFocus] = useState(fields[0] ?? "");
  const field = writer.problem?.field.replace("data.", "") ?? "";
  const slip = writer.problem?.code === "slip.suspected" ? writer.problem : null;
  const take = async (extra: Record<string, unknown> = {}) => {
    const typed = Object.fromEntries(
      fields
        .map((name) => [name, draft.values[name] ?? ""] as const)
        .filter(([name, value]) => value.trim() !== "" || needed.has(name)),
    );
    if (!(await writer.send([event({ ...typed, ...extra }), ...also]))) return;
    draft.clear();
    inputs.current[fields[0] ?? ""]?.focus();
    onStored?.();
  };
  const onKey = (key: KeyboardEvent, index: number) => {
    if (key.key !== "Enter") return;
    key.preventDefault();
    const next = inputs.current[fields[index + 1] ?? ""];
    if (next) next.focus();
    else void take();
  };
  return (
    <form
      className="grid grid-cols-2 gap-2.5"
      onSubmit={(e) => {
        e.preventDefault();
        void take();
      }}
    >
      {columns.map(({ id: name, label, unit }, i) => (
        <Field
          key={name}
          ref={(element) => {
            inputs.current[name] = element;
          }}
          digits
          autoFocus={i === 0}
          inputMode="decimal"
          label={label}
          unit={unit}
          value={draft.values[name] ?? ""}
          problem={field === name && !slip ? writer.problem : null}
          onFocus={() => setFocus(name)}
          onChange={(e) => draft.set(name, e.target.value)}
          onKeyDown={(e) => onKey(e, i)}
        />
      ))}
      {slip && (
        <div
          role="alert"
          className="col-span-2 rounded-xl border-l-4 border-caution-edge bg-caution p-3"
        >
          <p className="font-semibold">{slip.message}</p>
          <div className="mt-2 flex flex-wrap gap-2">
            {slip.suggestion && (
              <Button
                onClick={() => {
                  draft.set(field, slip.suggestion);
                  void take({ [field]: slip.suggestion });
                }}
              >
                Use {slip.suggestion}
              </Button>
            )}
            <Button onClick={() => void take({ kept: true })}>Keep it</Button>
            <Button onClick={() => inputs.current[field]?.focus()}>Correct it</Button>
          </div>
        </div>
      )}
      <Button
        look="main"
        type="submit"
        data-main="true"
        className="col-span-2"
        disabled={writer.sending}
      >
        {button}
      </Button>
      <NumberPad
        onKey={(key) => {
          const now = draft.values[focus] ?? "";
          draft.set(focus, key === "back" ? now.slice(0, -1) : now + key);
        }}
        onNext={() => {
          const next = inputs.current[fields[fields.indexOf(focus) + 1] ?? ""];
          if (next) next.focus();
          else void take();
        }}
      />
    </form>
  );
}
