import { useState } from "react";
import { Link } from "react-router";
import { ApiError } from "../../api/client";
import type { Me } from "../../api/session";
import { Button } from "../../ui/Button";
import { moment } from "../../ui/time";
import { ValueEditor } from "../../ui/ValueEditor";
import { useChangeParameter, type Instrument } from "./api";
import { DropPlan, PlanMethod } from "./ChooseMethod";
import { WorkOrder } from "./WorkOrder";
import { MoveDue } from "./MoveDue";

/** Who it is, by which method it is checked, and every limit with where it comes from. */
export function Facts({ i, user }: { i: Instrument; user: Me }) {
  const mayChange = user.can.includes("method.change");
  const mayPlan = user.can.includes("instrument.plan");
  const [doing, setDoing] = useState<"" | "plan" | "drop" | "move" | "order">("");
  const [shown, setShown] = useState(i.method.id);
  const plan = i.plans.find((p) => p.method.id === shown) ?? i.plans[0];
  const [edited, setEdited] = useState("");
  const change = useChangeParameter(i.tag);
  const close = () => {
    setEdited("");
    change.reset();
  };
  const facts = [
    ["Serial", i.serial],
    ["Range", i.range],
    ["Output", i.output],
    ...i.record.map((line) => [line.label, line.value] as const),
    ["Used for", i.loop_role],
  ];
  if (!plan) return null;
  const editing = plan.limits.find((limit) => limit.id === edited) ?? null;
  return (
    <section className="rounded-2xl border border-line bg-card p-4">
      <h2 className="mb-2 font-semibold">Identity</h2>
      <dl className="grid grid-cols-[112px_1fr] gap-y-1 text-[15px]">
        {facts.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="text-muted">{name}</dt>
            <dd>{value}</dd>
          </div>
        ))}
      </dl>
      <h2 className="mt-5 mb-1 font-semibold">Planned</h2>
      {i.plans.length > 1 && (
        <div className="mb-2 flex flex-wrap gap-1.5" role="group" aria-label="Plans">
          {i.plans.map((p) => (
            <button
              key={p.method.id}
              type="button"
              aria-pressed={p === plan}
              onClick={() => setShown(p.method.id)}
              className="min-h-11 rounded-lg border border-line px-3 text-left text-[14px] aria-pressed:border-accent aria-pressed:bg-accent-soft"
            >
              {p.method.short}{" "}
              <span className="digits whitespace-nowrap text-muted">{p.next_due}</span>
            </button>
          ))}
        </div>
      )}
      <p className="text-[15px]">
        <Link className="underline" to={`/methods?m=${plan.method.id}`}>
          {plan.method.title}
        </Link>
        <span className="block text-[14px] text-muted">fits: {plan.method.why}</span>
      </p>
      <dl className="mt-2 grid grid-cols-[112px_1fr] gap-y-1 text-[15px]">
        <dt className="text-muted">Next due</dt>
        <dd className="whitespace-nowrap">{plan.next_due || "not planned"}</dd>
        <dt className="text-muted">Why then</dt>
        <dd>{plan.due_reason || "not planned yet"}</dd>
        {plan.work_order && (
          <>
            <dt className="text-muted">Work order</dt>
            <dd>
              {plan.order_link ? (
                <a className="underline" href={plan.order_link} target="_blank" rel="noreferrer">
                  {plan.work_order}
                </a>
              ) : (
                plan.work_order
              )}
            </dd>
          </>
        )}
      </dl>
      <p className="mt-2 flex flex-wrap gap-2">
        {mayPlan && <Button onClick={() => setDoing("move")}>Move due date</Button>}
        {user.can.includes("job.open") && (
          <Button onClick={() => setDoing("order")}>Work order</Button>
        )}
        {mayChange && i.methods.length > i.plans.length && (
          <Button onClick={() => setDoing("plan")}>Plan more</Button>
        )}
        {mayChange && i.plans.length > 1 && (
          <Button onClick={() => setDoing("drop")}>Take off the plan</Button>
        )}
      </p>
      <h2 className="mt-5 mb-2 font-semibold">Limits and where they come from</h2>
      <ul className="text-[15px]">
        <li className="border-t border-line py-1.5">
          Tolerance <span className="digits">{i.tolerance}</span>
          <span className="block text-[14px] text-muted">{i.tolerance_source}</span>
        </li>
        {plan.limits.map((limit) => (
          <li
            key={limit.id}
            className="flex items-center justify-between gap-2 border-t border-line py-1.5"
          >
            <span>
              {limit.label}{" "}
              <span className="digits">
                {limit.said} {limit.unit}
              </span>
              <span className="block text-[14px] text-muted">{limit.source}</span>
            </span>
            {mayChange && (
              <Button
                className="text-[14px]"
                onClick={() => setEdited(limit.id)}
                aria-label={`Change ${limit.label}`}
              >
                Change
              </Button>
            )}
          </li>
        ))}
      </ul>
      {i.changes.length > 0 && (
        <>
          <h2 className="mt-5 mb-2 font-semibold">Changes</h2>
          <ul className="text-[14px]">
            {i.changes.map((c) => (
              <li key={`${c.at}${c.text}`} className="border-t border-line py-1.5">
                {c.text}
                <span className="block text-muted">
                  {c.by}, {moment(c.at)}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
      <ValueEditor
        spec={
          editing && {
            ...editing,
            version: plan.version,
          }
        }
        title={`${editing?.label ?? ""}, for ${i.tag} alone`}
        sourceLabel="Where does it come from? (manual and page)"
        back="Back to the site's"
        withReason
        busy={change.isPending}
        problem={change.error instanceof ApiError ? change.error.problem : null}
        onClose={close}
        onSave={(said) =>
          editing &&
          change.mutate({ key: editing.id, method: plan.method.id, ...said }, { onSuccess: close })
        }
      />
      <PlanMethod open={doing === "plan"} i={i} onClose={() => setDoing("")} />
      {doing === "drop" && <DropPlan open i={i} plan={plan} onClose={() => setDoing("")} />}
      {doing === "order" && <WorkOrder i={i} plan={plan} onClose={() => setDoing("")} />}
      {doing === "move" && <MoveDue open i={i} plan={plan} onClose={() => setDoing("")} />}
    </section>
  );
}
