import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { deliberate, noRepeat } from "../../../ui/deliberate";
import { useRound } from "../../../ui/round";
import { Empty, ErrorBox, Loading } from "../../../ui/states";
import { jobQueries } from "../api";
import { Reason } from "./Reason";
import { entry, problemAt, type AskProps } from "./types";

/** A reference of this job, from the kit; what speaks against one is said before it is chosen. */
export function ChooseFromShelf({ job, ask, writer }: AskProps) {
  const round = useRound(job.job);
  const options = useQuery(jobQueries.kit(job.job, ask.quantity, ask.id, round?.total ?? 1));
  const [asking, setAsking] = useState("");
  if (options.isPending) return <Loading what="references" />;
  if (options.isError)
    return <ErrorBox error={options.error} onRetry={() => void options.refetch()} />;
  const best = options.data.find((o) => o.usable && o.adequate)?.asset;
  const choose = (asset: string, reason = "") =>
    ask.sends && void writer.send([entry(ask.sends, { [ask.key]: asset, reason })]);
  return (
    <div>
      <h3 className="mb-1.5 font-semibold">{ask.label}</h3>
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
    </div>
  );
}
