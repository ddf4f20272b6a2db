import { useState } from "react";
import { ApiError } from "../../api/client";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Modal } from "../../ui/Modal";
import { useChangeMethod, type Instrument } from "./api";

/** The methods that fit an instrument, each with why; a running job keeps the one it has. */
export function ChooseMethod({
  open,
  i,
  onClose,
}: {
  open: boolean;
  i: Instrument;
  onClose: () => void;
}) {
  const [method, setMethod] = useState(i.method.id);
  const [reason, setReason] = useState("");
  const change = useChangeMethod(i.tag);
  const problem = change.error instanceof ApiError ? change.error.problem : null;
  return (
    <Modal open={open} onClose={onClose} title={`Method of ${i.tag}`}>
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate({ method, reason }, { onSuccess: onClose });
        }}
      >
        <fieldset className="grid gap-2">
          <legend className="mb-1 text-muted">Methods that fit</legend>
          {i.methods.map((m) => (
            <label
              key={m.id}
              className={`rounded-xl border px-4 py-2.5 ${m.id === method ? "border-accent bg-accent-soft" : "border-line"}`}
            >
              <input
                type="radio"
                name="method"
                className="sr-only"
                checked={m.id === method}
                onChange={() => setMethod(m.id)}
              />
              <strong>{m.title}</strong>
              <span className="block text-[14px] text-muted">{m.why}</span>
            </label>
          ))}
        </fieldset>
        <Field
          label="Reason, kept on record"
          value={reason}
          problem={problem}
          onChange={(e) => setReason(e.target.value)}
        />
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button look="main" type="submit" disabled={change.isPending}>
            Use this method
          </Button>
        </div>
      </form>
    </Modal>
  );
}
