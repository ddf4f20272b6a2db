import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../../api/client";
import { useRound } from "../../../ui/round";
import { Button } from "../../../ui/Button";
import { Empty, ErrorBox, Loading } from "../../../ui/states";
import { jobQueries } from "../api";
import { deliberate, noRepeat } from "../../../ui/deliberate";
import { Reason } from "./Reason";
import { problemAt, type StepProps } from "./types";

type Role = Schemas["RoleState"];

/** The references of this job; what speaks against one is said before it is chosen. */
export function KitStep({ job, step, writer }: StepProps) {
  const role = step.roles.find((r) => !r.chosen && !r.without);
  return (
    <>
      {step.roles
        .filter((r) => r.chosen)
        .map((r) => (
          <p key={r.id} className="rounded-xl bg-sunk px-3 py-2 text-[15px]">
            {r.label}: <strong>{r.chosen}</strong>, {r.detail}
          </p>
        ))}
      {step.roles
        .filter((r) => r.without)
        .map((r) => (
          <p key={r.id} className="rounded-xl bg-sunk px-3 py-2 text-[15px]">
            {r.label}: {r.instead.toLowerCase()}
          </p>
        ))}
      {role && <Choose key={role.id} job={job} role={role} writer={writer} step={step} />}
    </>
  );
}

function Choose({ job, role, writer }: StepProps & { role: Role }) {
  const round = useRound(job.job);
  const options = useQuery(jobQueries.kit(job.job, role.quantity, role.id, round?.total ?? 1));
  const [asking, setAsking] = useState("");
  if (options.isPending) return <Loading what="references" />;
  if (options.isError)
    return <ErrorBox error={options.error} onRetry={() => void options.refetch()} />;
  const best = options.data.find((o) => o.usable && o.adequate)?.asset;
  const choose = (asset: string, reason = "") =>
    void writer.send([{ kind: "kit_chosen", data: { role: role.id, asset, reason } }]);
  return (
    <div>
      <h3 className="mb-1.5 font-semibold">{role.label}</h3>
      {options.data.length === 0 && (
        <Empty>
          None is in the kit. A planner puts one in: <Link to="/kit">Kit</Link>.
        </Empty>
      )}
      <ul className="grid gap-1.5">
        {options.data.map((o) => (
          <li key={o.asset}>
            <button
              type="button"
              data-main={o.asset === best ? "true" : undefined}
              autoFocus={o.asset === best}
              disabled={!o.usable}
              onKeyDown={noRepeat}
              onClick={(event) => {
                if (!deliberate(event) || writer.sending) return;
                if (o.adequate) choose(o.asset);
                else setAsking(o.asset);
              }}
              className={`min-h-11 w-full rounded-xl border px-3 py-2 text-left text-[15px] ${o.asset === best ? "border-2 border-accent" : "border-line"} ${o.usable ? "hover:bg-sunk" : "bg-sunk"}`}
            >
              <span className="flex justify-between gap-2">
                <strong>{o.asset}</strong>
                <span className="digits">{o.ratio}</span>
              </span>
              <span className="block text-[14px] text-muted">
                {o.description}
                <span className="block">due {o.due_on}</span>
              </span>
              {o.elsewhere && (
                <span className="block text-[14px] font-semibold text-edge">
                  now connected at {o.elsewhere}: is it here?
                </span>
              )}
              {o.remark && (
                <span
                  className={`block text-[14px] font-semibold ${o.usable ? "text-edge" : "text-outside"}`}
                >
                  {o.usable ? "" : "Cannot be used. "}
                  {o.remark}
                </span>
              )}
            </button>
            {asking === o.asset && (
              <Reason
                label="Why use it all the same?"
                suggestions={["No better one on site today", "Check only, not for the record"]}
                button={`Use ${o.asset}`}
                problem={problemAt(writer, "data.reason")}
                busy={writer.sending}
                onReason={(reason) => choose(o.asset, reason)}
                onCancel={() => setAsking("")}
              />
            )}
          </li>
        ))}
      </ul>
      {role.instead && (
        <Button
          className="mt-2 w-full"
          data-main={options.data.some((o) => o.usable) ? undefined : "true"}
          disabled={writer.sending}
          onClick={() => void writer.send([{ kind: "went_without", data: { role: role.id } }])}
        >
          None at hand: {role.instead.toLowerCase()}
        </Button>
      )}
    </div>
  );
}
