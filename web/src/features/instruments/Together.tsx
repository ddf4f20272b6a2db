import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Modal } from "../../ui/Modal";
import { Pick } from "../../ui/Pick";
import { Loading } from "../../ui/states";
import { wrongAt, WrongElsewhere } from "../../ui/wrong";
import { methodsOfQuery, useMoveTogether, usePlanTogether, type Those } from "./finding";

type Props = { those: Those; onDone: (said: string) => void; onClose: () => void };

const many = (count: number) => `${count} ${count === 1 ? "instrument" : "instruments"}`;

/** One day for all, or days spread over a time in the order of the round. */
export function MoveTogether({ those, onDone, onClose }: Props) {
  const [first, setFirst] = useState("");
  const [last, setLast] = useState("");
  const [reason, setReason] = useState("");
  const move = useMoveTogether();
  return (
    <Modal open onClose={onClose} title={`Move the due day of ${many(those.count)}`}>
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          move.mutate(
            { those, first, last: last || null, reason },
            { onSuccess: (said) => onDone(`${many(said.count)} moved.`) },
          );
        }}
      >
        <div className="grid gap-3 sm:grid-cols-2">
          <Field
            label="Due on"
            type="date"
            required
            value={first}
            problem={wrongAt(move.error, "due")}
            onChange={(e) => setFirst(e.target.value)}
          />
          <Field
            label="Spread until (may stay empty)"
            type="date"
            value={last}
            problem={wrongAt(move.error, "last")}
            onChange={(e) => setLast(e.target.value)}
          />
        </div>
        <p className="text-[14px] text-muted">
          Spread, the days follow the order of the round: first area first. Of an instrument with
          more than one plan the first is moved.
        </p>
        <Field
          label="Reason, kept on record of each"
          value={reason}
          problem={wrongAt(move.error, "reason")}
          onChange={(e) => setReason(e.target.value)}
        />
        <WrongElsewhere error={move.error} fields={["due", "last", "reason"]} />
        <p className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button look="main" type="submit" disabled={move.isPending}>
            Move {those.count}
          </Button>
        </p>
      </form>
    </Modal>
  );
}

/** A method for all of them, beside what is planned or instead of it. */
export function PlanTogether({ those, onDone, onClose }: Props) {
  const methods = useQuery(methodsOfQuery(those));
  const [method, setMethod] = useState("");
  const [instead, setInstead] = useState("");
  const [first, setFirst] = useState("");
  const [reason, setReason] = useState("");
  const plan = usePlanTogether();
  const fitting = (methods.data ?? []).filter((m) => m.fits > 0 && m.planned < those.count);
  const planned = (methods.data ?? []).filter((m) => m.planned > 0 && m.id !== method);
  return (
    <Modal open onClose={onClose} title={`Plan a method for ${many(those.count)}`}>
      {methods.isPending && <Loading what="the methods that fit" />}
      <WrongElsewhere error={methods.error} fields={[]} />
      {methods.data && (
        <form
          className="grid gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            plan.mutate(
              { those, method, first, instead, reason },
              { onSuccess: (said) => onDone(`Planned for ${many(said.count)}.`) },
            );
          }}
        >
          <Pick
            label="Method"
            none="choose"
            required
            choices={fitting.map((m) => ({
              value: m.id,
              label: `${m.title}: fits ${m.fits} of ${those.count}`,
            }))}
            value={method}
            problem={wrongAt(plan.error, "method")}
            onChange={(e) => setMethod(e.target.value)}
          />
          <Pick
            label="Instead of"
            none="nothing: beside what is planned"
            choices={planned.map((m) => ({
              value: m.id,
              label: `${m.title}, planned for ${m.planned}`,
            }))}
            value={instead}
            onChange={(e) => setInstead(e.target.value)}
          />
          <Field
            label="First due on"
            type="date"
            required
            value={first}
            problem={wrongAt(plan.error, "due")}
            onChange={(e) => setFirst(e.target.value)}
          />
          <Field
            label="Reason, kept on record of each"
            value={reason}
            problem={wrongAt(plan.error, "reason")}
            onChange={(e) => setReason(e.target.value)}
          />
          <WrongElsewhere error={plan.error} fields={["method", "due", "reason"]} />
          <p className="flex justify-end gap-2">
            <Button onClick={onClose}>Cancel</Button>
            <Button look="main" type="submit" disabled={plan.isPending}>
              Plan it
            </Button>
          </p>
        </form>
      )}
    </Modal>
  );
}
