import { useState } from "react";
import { ApiError } from "../../api/client";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Modal } from "../../ui/Modal";
import { useOpenJob } from "../../ui/useOpenJob";
import { useDropPlan, usePlanMethod, useReadPlan, type Instrument } from "./api";

type Props = { open: boolean; i: Instrument; onClose: () => void };
type ChoiceProps = {
  methods: Instrument["methods"];
  method: string;
  legend: string;
  onChange: (id: string) => void;
};

function Methods({ methods, method, legend, onChange }: ChoiceProps) {
  return (
    <fieldset className="grid gap-2">
      <legend className="mb-1 text-muted">{legend}</legend>
      {methods.map((m) => (
        <label
          key={m.id}
          className={`min-h-11 rounded-xl border px-4 py-2.5 ${m.id === method ? "border-accent bg-accent-soft" : "border-line"}`}
        >
          <input
            type="radio"
            name="method"
            className="sr-only"
            checked={m.id === method}
            onChange={() => onChange(m.id)}
          />
          <strong>{m.title}</strong>
          <span className="block text-[14px] text-muted">{m.why}</span>
        </label>
      ))}
    </fieldset>
  );
}

/** A job by any method that fits, whatever is due. */
export function StartBy({ open, i, onClose }: Props) {
  const [method, setMethod] = useState(i.method.id);
  const start = useOpenJob();
  return (
    <Modal open={open} onClose={onClose} title={`Start a job on ${i.tag}`}>
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          start.mutate({ tag: i.tag, method });
        }}
      >
        <Methods
          methods={i.methods}
          method={method}
          legend="Methods that fit"
          onChange={setMethod}
        />
        {start.error instanceof ApiError && (
          <p role="alert" className="text-outside">
            {start.error.problem.message} {start.error.problem.remedy}
          </p>
        )}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button look="main" type="submit" disabled={start.isPending}>
            Start it
          </Button>
        </div>
      </form>
    </Modal>
  );
}

/** One more method is planned, each with a date and limits of its own. */
export function PlanMethod({ open, i, onClose }: Props) {
  const free = i.methods.filter((m) => !i.plans.some((p) => p.method.id === m.id));
  const [method, setMethod] = useState("");
  const [due, setDue] = useState("");
  const [reason, setReason] = useState("");
  const plan = usePlanMethod(i.tag);
  const problem = plan.error instanceof ApiError ? plan.error.problem : null;
  const at = (field: string) => (problem?.field === field ? problem : null);
  return (
    <Modal open={open} onClose={onClose} title={`Plan more for ${i.tag}`}>
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          plan.mutate({ method, due, reason }, { onSuccess: onClose });
        }}
      >
        <Methods
          methods={free}
          method={method}
          legend="Methods that fit and are not planned"
          onChange={setMethod}
        />
        {at("method") && (
          <p role="alert" className="text-outside">
            {problem?.message} {problem?.remedy}
          </p>
        )}
        <Field
          label="First due on"
          type="date"
          required
          value={due}
          problem={at("due")}
          onChange={(e) => setDue(e.target.value)}
        />
        <Field
          label="Reason, kept on record"
          value={reason}
          problem={at("reason")}
          onChange={(e) => setReason(e.target.value)}
        />
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button look="main" type="submit" disabled={plan.isPending || !method}>
            Plan it
          </Button>
        </div>
      </form>
    </Modal>
  );
}

type DropProps = Props & { plan: Instrument["plans"][number] };

/** A method is planned no more. */
export function DropPlan({ open, i, plan, onClose }: DropProps) {
  const [reason, setReason] = useState("");
  const { version, lookAgain } = useReadPlan(i.tag, plan);
  const drop = useDropPlan(i.tag);
  const problem = drop.error instanceof ApiError ? drop.error.problem : null;
  return (
    <Modal open={open} onClose={onClose} title={`Plan it no more: ${plan.method.title}`}>
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          drop.mutate(
            { method: plan.method.id, reason, version },
            { onSuccess: onClose, onError: lookAgain },
          );
        }}
      >
        <Field
          label="Reason, kept on record"
          autoFocus
          value={reason}
          problem={problem}
          onChange={(e) => setReason(e.target.value)}
        />
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button look="main" type="submit" disabled={drop.isPending}>
            Take it off the plan
          </Button>
        </div>
      </form>
    </Modal>
  );
}
