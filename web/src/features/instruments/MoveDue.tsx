import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, client, unwrap } from "../../api/client";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Modal } from "../../ui/Modal";
import { oneQuery, useReadPlan, type Instrument } from "./api";

type MoveProps = {
  open: boolean;
  onClose: () => void;
  i: Instrument;
  plan: Instrument["plans"][number];
};

/** Moves a due date, with a reason that stays on record. */
export function MoveDue({ open, onClose, i, plan }: MoveProps) {
  const queries = useQueryClient();
  const [due, setDue] = useState(plan.next_due);
  const [reason, setReason] = useState("");
  const { version, lookAgain } = useReadPlan(i.tag, plan);
  const move = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST("/api/v1/instruments/{tag}/due", {
          params: { path: { tag: i.tag } },
          body: { due, reason, method: plan.method.id, version },
        }),
      ),
    onSuccess: (fresh) => {
      queries.setQueryData(oneQuery(i.tag).queryKey, fresh);
      onClose();
    },
    onError: lookAgain,
  });
  const problem = move.error instanceof ApiError ? move.error.problem : null;
  return (
    <Modal
      open={open}
      onClose={onClose}
      title={`Move the due date of ${i.tag}: ${plan.method.short}`}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          move.mutate();
        }}
      >
        <Field
          label="Due on"
          type="date"
          value={due}
          hint={plan.next_due ? `planned now for ${plan.next_due}` : "no day is planned now"}
          problem={problem?.field === "due" ? problem : null}
          onChange={(e) => setDue(e.target.value)}
        />
        <Field
          className="mt-3"
          label="Reason, kept on record"
          value={reason}
          problem={problem && problem.field !== "due" ? problem : null}
          onChange={(e) => setReason(e.target.value)}
        />
        <div className="mt-5 flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button look="main" type="submit" disabled={move.isPending}>
            Move it
          </Button>
        </div>
      </form>
    </Modal>
  );
}
