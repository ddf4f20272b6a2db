import { useState } from "react";
import type { JobState, Schemas } from "../../../api/client";
import type { Me } from "../../../api/session";
import { Button } from "../../../ui/Button";
import { Field } from "../../../ui/Field";
import { ProofField } from "../../../ui/ProofField";
import type { Writer } from "../useWriter";
import { Reason } from "./Reason";
import { problemAt, type Ask } from "./types";

type Lock = Schemas["OnState"];
/** `ask`: what the present step asks of a lock; none where it asks nothing of one. */
type Props = { job: JobState; ask: Ask | undefined; user: Me; writer: Writer };

/** Whose lock is on: each hangs and takes off their own; of somebody absent a planner decides. */
export function Locks({ job, ask, user, writer }: Props) {
  const [asking, setAsking] = useState("");
  const locks = job.on.filter((o) => o.kind === "lock");
  const hangs = ask?.key === "proven";
  if (job.status !== "open" || (!hangs && locks.length === 0)) return null;
  const place = locks[0]?.step ?? String(ask?.sends?.data.step ?? "");
  const mine = locks.find((l) => l.account === user.username);
  const records = user.can.includes("job.record");
  const due = ask?.key === "lock";
  return (
    <section aria-label="Locks" className="grid gap-2">
      {locks.length > 0 && (
        <ul className="grid gap-1 rounded-xl border-2 border-outside bg-card p-3">
          {locks.map((lock) => (
            <li key={lock.account} className="flex flex-wrap items-center justify-between gap-2">
              <span>
                <strong>{lock.by}</strong>: lock on since{" "}
                <span className="digits">{timeOf(lock.since)}</span>
              </span>
              {user.can.includes("lock.end") && lock.account !== user.username && (
                <Button onClick={() => setAsking(lock.account)}>Its person is absent</Button>
              )}
            </li>
          ))}
        </ul>
      )}
      {asking && (
        <Absent
          key={asking}
          lock={locks.find((l) => l.account === asking)}
          writer={writer}
          onDone={() => setAsking("")}
        />
      )}
      {records && !mine && (hangs || !due) && (
        <Hang
          place={place}
          writer={writer}
          main={hangs && locks.length === 0}
          button={ask?.button || "My lock is on"}
        />
      )}
      {records && mine && <TakeOff lock={mine} writer={writer} main={due} />}
      {due && !mine && (
        <p className="rounded-lg bg-sunk px-3 py-2 text-[15px]">
          Waits until {locks.map((l) => l.by).join(" and ")} took off their own.
        </p>
      )}
    </section>
  );
}

const timeOf = (since: string) =>
  new Date(since).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });

type HangProps = { place: string; writer: Writer; main: boolean; button: string };

function Hang({ place, writer, main, button }: HangProps) {
  const [open, setOpen] = useState(false);
  if (!main && !open)
    return <Button onClick={() => setOpen(true)}>My hands go in too: hang my lock</Button>;
  return (
    <Reason
      label="Locked out with your own lock. How is it proven that nothing starts?"
      suggestions={["Start pressed: it stays still", "Local switch tried: dead"]}
      button={button}
      problem={problemAt(writer, "data.proven")}
      busy={writer.sending}
      onReason={(proven) =>
        void writer
          .send([{ kind: "lock_hung", data: { step: place, proven } }])
          .then((stored) => stored && setOpen(false))
      }
      onCancel={main ? undefined : () => setOpen(false)}
    />
  );
}

function TakeOff({ lock, writer, main }: { lock: Lock; writer: Writer; main: boolean }) {
  const [password, setPassword] = useState("");
  const [open, setOpen] = useState(false);
  if (!main && !open)
    return <Button onClick={() => setOpen(true)}>Take my lock off before the work is done</Button>;
  const off = (proof: string) =>
    void writer
      .send([{ kind: "lock_taken_off", data: { step: lock.step } }], proof)
      .then(() => setPassword(""));
  return (
    <form
      className="grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        off(password);
      }}
    >
      <ProofField
        label="Your password: only you take your lock off"
        autoFocus
        value={password}
        problem={problemAt(writer, "password")}
        onChange={setPassword}
        onProven={off}
      />
      <Button
        look="main"
        type="submit"
        data-main={main ? "true" : undefined}
        disabled={writer.sending}
      >
        My hands are out: my lock is off
      </Button>
      {!main && <Button onClick={() => setOpen(false)}>Cancel</Button>}
    </form>
  );
}

const GROUNDS = [
  ["procedure", "By which site procedure?"],
  ["reached", "Who was reached, or how was it tried?"],
  ["reason", "Why can it not wait?"],
] as const;

/** The lock of somebody absent ends by a decision on record, and by nothing else. */
function Absent({
  lock,
  writer,
  onDone,
}: {
  lock: Lock | undefined;
  writer: Writer;
  onDone: () => void;
}) {
  const [said, setSaid] = useState<Record<string, string>>({});
  const [password, setPassword] = useState("");
  if (!lock) return null;
  return (
    <form
      aria-label={`The lock of ${lock.by}`}
      className="grid gap-2 rounded-xl border border-line bg-sunk p-3"
      onSubmit={(event) => {
        event.preventDefault();
        const data = { step: lock.step, account: lock.account, ...grounds(said) };
        void writer.send([{ kind: "lock_ended", data }], password).then((stored) => {
          setPassword("");
          if (stored) onDone();
        });
      }}
    >
      <p className="rounded-lg bg-caution px-3 py-2 text-[14px]">
        See with your own eyes that nobody is there. Site procedure and local code come first.
      </p>
      {GROUNDS.map(([name, label], n) => (
        <Field
          key={name}
          label={label}
          autoFocus={n === 0}
          value={said[name] ?? ""}
          problem={problemAt(writer, `data.${name}`)}
          onChange={(e) => setSaid({ ...said, [name]: e.target.value })}
        />
      ))}
      <Field
        label="Your password"
        type="password"
        autoComplete="current-password"
        value={password}
        problem={problemAt(writer, "password")}
        onChange={(e) => setPassword(e.target.value)}
      />
      <div className="flex gap-2">
        <Button type="submit" className="flex-1 font-semibold" disabled={writer.sending}>
          Decide: the lock of {lock.by} ends
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </div>
    </form>
  );
}

const grounds = (said: Record<string, string>) =>
  Object.fromEntries(GROUNDS.map(([name]) => [name, said[name] ?? ""]));
