import { useState } from "react";
import type { Problem } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { Field } from "../../../ui/Field";

type Props = {
  label: string;
  suggestions: string[];
  button: string;
  problem: Problem | null;
  busy: boolean;
  onReason: (reason: string) => void;
  onCancel?: () => void;
  autoFocus?: boolean;
};

/** Asks for a reason: one tap for the usual ones, or own words. */
export function Reason(props: Props) {
  const [reason, setReason] = useState("");
  return (
    <form
      className="rounded-xl border border-line bg-sunk p-3"
      onSubmit={(event) => {
        event.preventDefault();
        props.onReason(reason);
      }}
    >
      <Field
        label={props.label}
        autoFocus={props.autoFocus ?? true}
        value={reason}
        problem={props.problem}
        onChange={(e) => setReason(e.target.value)}
      />
      <div className="my-2 flex flex-wrap gap-1.5">
        {props.suggestions.map((text) => (
          <button
            key={text}
            type="button"
            onClick={() => setReason(text)}
            className="min-h-11 rounded-lg border border-line bg-card px-3 text-[14px]"
          >
            {text}
          </button>
        ))}
      </div>
      <div className="flex gap-2">
        <Button type="submit" className="flex-1 font-semibold" disabled={props.busy}>
          {props.button}
        </Button>
        {props.onCancel && <Button onClick={props.onCancel}>Cancel</Button>}
      </div>
    </form>
  );
}
