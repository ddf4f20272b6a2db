import { useState } from "react";
import { ApiError } from "../api/client";
import { Button } from "./Button";
import { Field } from "./Field";
import { Modal } from "./Modal";
import { wrongAt, WrongElsewhere } from "./wrong";

type WhyProps = {
  error: Error | null;
  busy: boolean;
  onClose: () => void;
  onSend: (reason: string) => void;
};

/** A change takes a reason, which stays beside it. */
export function Why({ error, busy, onClose, onSend }: WhyProps) {
  const [reason, setReason] = useState("");
  const old = error instanceof ApiError && error.problem.code === "version.old";
  return (
    <Modal open onClose={onClose} title="Why is it changed?">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          onSend(reason);
        }}
      >
        <Field
          label="Reason: it stays beside the change"
          autoFocus
          value={reason}
          problem={wrongAt(error, "reason")}
          onChange={(e) => setReason(e.target.value)}
        />
        <WrongElsewhere error={error} fields={["reason"]} />
        <p className="mt-4 flex justify-end gap-2">
          <Button onClick={onClose}>Back to the form</Button>
          <Button look="main" type="submit" disabled={busy || old}>
            Store the change
          </Button>
        </p>
      </form>
    </Modal>
  );
}
