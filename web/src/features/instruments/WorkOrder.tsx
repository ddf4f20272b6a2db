import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { client, unwrap } from "../../api/client";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Modal } from "../../ui/Modal";
import { wrongAt, WrongElsewhere } from "../../ui/wrong";
import { oneQuery, useReadPlan, type Instrument } from "./api";

type Props = { i: Instrument; plan: Instrument["plans"][number]; onClose: () => void };

/** By which order of the plant's own system the next job is done; it stands on its paper. */
export function WorkOrder({ i, plan, onClose }: Props) {
  const queries = useQueryClient();
  const [number, setNumber] = useState(plan.work_order);
  const { version, lookAgain } = useReadPlan(i.tag, plan);
  const set = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST("/api/v1/instruments/{tag}/work-order", {
          params: { path: { tag: i.tag } },
          body: { method: plan.method.id, number, version },
        }),
      ),
    onSuccess: (fresh) => {
      queries.setQueryData(oneQuery(i.tag).queryKey, fresh);
      onClose();
    },
    onError: lookAgain,
  });
  return (
    <Modal open onClose={onClose} title={`Work order of the next job: ${plan.method.short}`}>
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          set.mutate();
        }}
      >
        <Field
          label="Number; empty for none"
          autoFocus
          value={number}
          problem={wrongAt(set.error, "number")}
          onChange={(e) => setNumber(e.target.value)}
        />
        <WrongElsewhere error={set.error} fields={["number"]} />
        <p className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button look="main" type="submit" disabled={set.isPending}>
            Store it
          </Button>
        </p>
      </form>
    </Modal>
  );
}
