import { useState } from "react";
import type { Problem } from "../api/client";
import { Button } from "./Button";
import { Field } from "./Field";
import { Modal } from "./Modal";

export type Edited<V> = { value: string; source: string; reason: string; version: V };
type Spec = {
  id: string;
  label: string;
  unit: string;
  kind: string;
  choices: string[];
  choices_said: string[];
  value: string;
  said: string;
};

type Props<V> = {
  spec: (Spec & { version: V }) | null;
  title: string;
  sourceLabel: string;
  back: string;
  withReason: boolean;
  busy: boolean;
  problem: Problem | null;
  onSave: (edited: Edited<V>) => void;
  onClose: () => void;
};

/**
 * A limit or setting to change: value, where it comes from, and why. It goes over what was read
 * when the editor was opened; where somebody else was first, over what is shown since.
 */
export function ValueEditor<V>(props: Props<V>) {
  return (
    <Modal open={props.spec !== null} onClose={props.onClose} title={props.title}>
      {props.spec && <Form key={props.spec.id} {...props} spec={props.spec} />}
    </Modal>
  );
}

function Form<V>({
  spec,
  sourceLabel,
  back,
  withReason,
  busy,
  problem,
  onSave,
  onClose,
}: Props<V> & { spec: Spec & { version: V } }) {
  const [value, setValue] = useState(spec.value);
  const [source, setSource] = useState("");
  const [reason, setReason] = useState("");
  const [read] = useState(spec.version);
  const late = problem?.code === "version.old";
  const save = (to: string) =>
    onSave({ value: to, source, reason, version: late ? spec.version : read });
  const at = (field: string) => (problem?.field === field ? problem : null);
  const placed = ["value", "source", "reason"].includes(problem?.field ?? "");
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        save(value);
      }}
    >
      {spec.kind === "choice" ? (
        <fieldset>
          <legend className="mb-1 text-muted">{spec.label}</legend>
          <div className="flex flex-wrap gap-2">
            {spec.choices.map((choice, n) => (
              <label
                key={choice}
                className={`min-h-11 rounded-xl border px-4 py-2.5 ${value === choice ? "border-accent bg-accent-soft font-semibold" : "border-line"}`}
              >
                <input
                  type="radio"
                  name="value"
                  className="sr-only"
                  checked={value === choice}
                  onChange={() => setValue(choice)}
                />
                {spec.choices_said[n]}
              </label>
            ))}
          </div>
        </fieldset>
      ) : (
        <Field
          label={
            spec.kind === "points"
              ? `${spec.label}: 3, 5, 9 or 11, or percents from low to high`
              : spec.label
          }
          unit={spec.unit}
          digits
          autoFocus
          value={value}
          problem={at("value")}
          onChange={(e) => setValue(e.target.value)}
        />
      )}
      <Field
        label={sourceLabel}
        value={source}
        problem={at("source")}
        onChange={(e) => setSource(e.target.value)}
      />
      {withReason && (
        <Field
          label="Reason, kept on record"
          value={reason}
          problem={at("reason")}
          onChange={(e) => setReason(e.target.value)}
        />
      )}
      {problem && !placed && (
        <p role="alert" className="text-outside">
          {problem.message} {problem.remedy}
          {late && ` Now it is ${spec.said} ${spec.unit}.`}
        </p>
      )}
      <p className="text-[14px] text-muted">Running jobs keep the limits they were opened with.</p>
      <div className="flex flex-wrap justify-end gap-2">
        <Button onClick={() => save("")} disabled={busy}>
          {back}
        </Button>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" type="submit" disabled={busy}>
          Save
        </Button>
      </div>
    </form>
  );
}
