import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { moment } from "../../ui/time";
import { wrongAt, WrongElsewhere } from "../../ui/wrong";
import { broughtQuery, underWay, useBrought, type Brought } from "./lists";

const STATES: Record<string, string> = {
  waiting: "waits",
  running: "is being stored",
  done: "all is stored",
  stopped: "stopped",
  refused: "refused",
};

/** Lists that are stored in the background: how far each is, stopped and gone on with here. */
export function BroughtLists() {
  const brought = useQuery(broughtQuery);
  if (!brought.data?.length) return null;
  return (
    <section aria-label="Brought in" className="rounded-2xl border border-line bg-card p-5">
      <h2 className="mb-2 font-semibold">Brought in lately</h2>
      <ul>
        {brought.data.map((one) => (
          <Line key={one.number} one={one} />
        ))}
      </ul>
    </section>
  );
}

function Line({ one }: { one: Brought }) {
  const { stop, goOn, takeBack } = useBrought();
  const [asked, setAsked] = useState(false);
  const [reason, setReason] = useState("");
  return (
    <li className="grid gap-1 border-t border-line py-2 first:border-t-0">
      <p className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <strong>
          List {one.number}, {one.name}
        </strong>
        <span className="digits text-[14px] text-muted">
          {moment(one.at)} {one.by}
        </span>
        <span className="ml-auto">
          {STATES[one.state]}: <span className="digits">{one.done}</span> of{" "}
          <span className="digits">{one.total}</span> rows
        </span>
        {underWay(one) && (
          <Button disabled={stop.isPending} onClick={() => stop.mutate(one.number)}>
            Stop
          </Button>
        )}
        {one.may_take_back && (
          <Button onClick={() => setAsked(!asked)} aria-expanded={asked}>
            Take back
          </Button>
        )}
        {one.may_go_on && (
          <Button disabled={goOn.isPending} onClick={() => goOn.mutate(one.number)}>
            Go on
          </Button>
        )}
      </p>
      {one.state === "running" && (
        <progress
          aria-label={`How far list ${one.number} is`}
          className="h-2 w-full accent-accent"
          max={one.total || undefined}
          value={one.total ? one.done : undefined}
        />
      )}
      {one.why && <p className="text-[14.5px] text-outside">{one.why}</p>}
      {one.forsaken && (
        <p className="text-[14.5px] text-outside">
          Nothing does background tasks now: tell who looks after the server. It goes on by itself
          when that runs again.
        </p>
      )}
      {one.skipped.length > 0 && (
        <p className="text-[14.5px]">
          Changed by others meanwhile, and so left as they are: {one.skipped.join(", ")}
        </p>
      )}
      {one.taken_back > 0 && (
        <p className="text-[14.5px]">
          Taken back: <span className="digits">{one.taken_back}</span>.{" "}
          {one.kept.length > 0 && `Used since, and so kept: ${one.kept.join(", ")}`}
        </p>
      )}
      {asked && one.may_take_back && (
        <form
          className="flex flex-wrap items-end gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            takeBack.mutate({ id: one.number, reason }, { onSuccess: () => setAsked(false) });
          }}
        >
          <Field
            className="min-w-60 flex-1"
            label="Why? What it entered and nobody used since goes; what it changed stays changed."
            value={reason}
            problem={wrongAt(takeBack.error, "reason")}
            onChange={(e) => setReason(e.target.value)}
          />
          <Button type="submit" disabled={takeBack.isPending}>
            Take it back
          </Button>
        </form>
      )}
      <WrongElsewhere error={stop.error ?? goOn.error ?? takeBack.error} fields={["reason"]} />
    </li>
  );
}
