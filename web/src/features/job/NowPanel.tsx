import { useState, type ReactNode } from "react";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { JobState, RunState } from "../../api/client";
import type { Me } from "../../api/session";
import { Button } from "../../ui/Button";
import { jobQueries } from "./api";
import { ReviewBox } from "./ReviewBox";
import { Amend, Issues } from "./Amend";
import { FollowUp } from "./FollowUp";
import { TakeOver } from "./TakeOver";
import { Waiting } from "./Waiting";
import { useRound, type InRound } from "../../ui/round";
import { AskView } from "./asks/AskView";
import { CameTo } from "./asks/CameTo";
import { FormAsk } from "./asks/FormAsk";
import { Locks } from "./asks/Locks";
import { RoundStep } from "./asks/RoundStep";
import type { Ask, Task } from "./asks/types";
import { readNow } from "./runs";
import type { Live } from "./useLive";
import type { Writer } from "./useWriter";

type Props = {
  job: JobState;
  className?: string;
  user: Me;
  writer: Writer;
  live: Live;
  retake: number;
  onRetaken: () => void;
  onUndo: () => void;
  onNote: () => void;
};

/** The one next action: what to do now, why, and what comes after. */
export function NowPanel(props: Props) {
  const { job, user, writer, onUndo, onNote, className = "" } = props;
  const [todo, ...beside] = job.tasks;
  const mayRecord = user.can.includes("job.record");
  const round = useRound(job.job);
  const read = readNow(job, todo);
  const point = read?.points[props.retake];
  const again = point !== undefined;
  const asked = job.asked[0];
  const [saying, setSaying] = useState({ step: "", kind: "" });
  const said = job.mishaps.find((m) => m.kind === saying.kind && saying.step === job.current_step);
  if (!todo) return null;
  const lock = todo.asks.find((ask) => ask.way === "prove" && ask.key !== "");
  const kicker = again
    ? "Taking again"
    : asked
      ? "Before you sign"
      : said
        ? "What happened"
        : todo.kicker;
  const unit = read?.order === "fix" ? read.output_unit : read?.input_unit;
  const done = () => setSaying({ step: "", kind: "" });
  return (
    <section
      aria-label="Now"
      className={`flex min-h-0 scroll-pb-24 flex-col gap-2.5 *:shrink-0 overflow-auto rounded-[14px] border border-line bg-card p-3 lg:p-4 ${className}`}
    >
      <p className="text-[13.5px] text-muted">{kicker}</p>
      <h2 className="text-[21px] leading-tight font-semibold" aria-live="polite">
        {again
          ? `Go back to ${point.target} ${unit ?? ""} and take it again`
          : (asked?.title ?? said?.title ?? todo.title)}
      </h2>
      {todo.caution && (
        <p className="rounded-lg border-l-4 border-caution-edge bg-caution px-3 py-2 text-[14px] leading-snug">
          {todo.caution}
        </p>
      )}
      {todo.step && !mayRecord && (
        <p className="rounded-xl bg-sunk p-3">
          Only a technician records in a job. You see it as it goes on.
        </p>
      )}
      {round && (
        <p className="rounded-lg bg-accent-soft px-3 py-1.5 text-[14.5px]">
          Round: <strong className="digits">{round.place}</strong> of{" "}
          <span className="digits">{round.total}</span>
          {round.next && `, then ${round.next}`}
        </p>
      )}
      {asked && mayRecord ? (
        <FormAsk key={asked.kind} form={asked} job={job.job} writer={writer} />
      ) : said && mayRecord ? (
        <>
          {todo.asks.map((ask) => ask.barred && <p key={ask.id}>{ask.barred}</p>)}
          <FormAsk
            key={said.kind}
            form={said}
            job={job.job}
            writer={writer}
            onDone={done}
            onCancel={done}
          />
        </>
      ) : (
        todo.step &&
        mayRecord && <Asks key={todo.step} {...props} todo={todo} round={round} again={again} />
      )}
      {!asked && !said && (
        <Locks key={`locks ${job.current_step}`} job={job} ask={lock} user={user} writer={writer} />
      )}
      {todo.refused.map((line, n) => (
        <p key={n} className="rounded-lg border-l-4 border-outside bg-sunk px-3 py-2 text-[14px]">
          {line}. The old value stays.
        </p>
      ))}
      {mayRecord &&
        beside.map((other) => (
          <section
            key={other.step}
            aria-label={other.title}
            className="grid gap-2 rounded-xl border border-line px-3 py-2"
          >
            {other.aside ? (
              <Aside title={other.title} kicker={other.kicker}>
                <Asks {...props} todo={other} round={null} again={false} />
              </Aside>
            ) : (
              <>
                <h3 className="text-[15px] font-semibold">{other.title}</h3>
                <Asks {...props} todo={other} round={null} again={false} />
              </>
            )}
          </section>
        ))}
      {!todo.step && <Closed job={job} user={user} writer={writer} />}
      <Waiting writer={writer} />
      <Refusal writer={writer} job={job} />
      <TakeOver job={job} user={user} writer={writer} />
      <div className="mt-auto border-t border-line pt-2 text-[14.5px] text-muted">
        {!todo.asks.some((ask) => ask.alone) && <p>{asked?.why ?? said?.why ?? todo.why}</p>}
        {todo.then ? (
          <p className="mt-1">
            <strong className="font-semibold text-ink">Then</strong> {todo.then}
          </p>
        ) : (
          todo.step && <p className="mt-1 font-semibold text-ink">Last step</p>
        )}
        <OnBench job={job} />
        {job.status === "open" && mayRecord && (
          <p className="mt-1 -mb-2 flex flex-wrap justify-between gap-x-1">
            {!asked &&
              !said &&
              job.mishaps
                .filter((m) => m.beside)
                .map((m) => (
                  <Plain
                    key={m.kind}
                    onClick={() => setSaying({ step: job.current_step, kind: m.kind })}
                  >
                    {m.button}
                  </Plain>
                ))}
            {job.last_undoable && writer.waiting === 0 && <Plain onClick={onUndo}>Undo last</Plain>}
            <Plain onClick={onNote}>Add note</Plain>
          </p>
        )}
      </div>
    </section>
  );
}

/** What nothing waits for: a line, until somebody has a hand free for it. */
function Aside({
  title,
  kicker,
  children,
}: {
  title: string;
  kicker: string;
  children: ReactNode;
}) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button
        type="button"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
        className="flex min-h-11 items-center justify-between gap-3 text-left text-[15px]"
      >
        <span className="font-semibold">{title}</span>
        <span className="text-[13.5px] text-muted">{open ? "Close" : kicker}</span>
      </button>
      {open && children}
    </>
  );
}

/** What may be done at any time: in one line, under the task. */
function Plain({ onClick, children }: { onClick: () => void; children: ReactNode }) {
  return (
    <button
      type="button"
      onClick={onClick}
      className="min-h-11 rounded-lg px-1.5 text-[14.5px] whitespace-nowrap text-ink underline"
    >
      {children}
    </button>
  );
}

type AsksProps = Props & { todo: Task; round: InRound; again: boolean };

/** What a task asks for: the answers that stand, and the first that is open. */
function Asks({ todo, round, again, ...props }: AsksProps) {
  const { job, writer, live, retake, onRetaken } = props;
  const [apart, setApart] = useState(false);
  if (round && todo.leaves)
    return <RoundStep job={job} todo={todo} writer={writer} round={round} />;
  const run = readNow(job, todo) ?? job.as_found;
  const common = { job, todo, writer, live, run, onTaken: onRetaken };
  if (todo.together && !again && !apart)
    return (
      <>
        <AskView {...common} ask={todo.together} />
        <Button onClick={() => setApart(true)}>Not all of it: line by line</Button>
      </>
    );
  const open = todo.asks.find((ask) => !ask.said);
  return (
    <>
      {todo.asks.map(
        (ask) =>
          (ask.said || ask.way === "set") &&
          ask.label && (
            <p
              key={ask.id}
              className={`rounded-xl px-3 py-2 text-[15px] ${ask === open ? "border border-line font-semibold" : "bg-sunk"}`}
            >
              {ask.label}
              {ask.said && <strong className="font-semibold">: {ask.said}</strong>}
            </p>
          ),
      )}
      {open && (
        <AskView
          {...common}
          key={open.alone ? run.id : open.id}
          ask={again ? atPoint(open, run, retake) : open}
        />
      )}
    </>
  );
}

/** The same ask for a point that has its reading already. */
function atPoint(ask: Ask, run: RunState, index: number): Ask {
  const point = run.points[index];
  if (!point || !ask.sends) return ask;
  const stands: Record<string, string> = point.stands_for ? { applied: point.stands_for } : {};
  const unit = run.order === "fix" ? run.output_unit : run.input_unit;
  return {
    ...ask,
    id: `${run.id}:${index}`,
    sends: { ...ask.sends, data: { run: run.id, point: index, ...stands } },
    go: ask.go && {
      ...ask.go,
      value: point.target_value,
      label: `Go back to ${point.target} ${unit}`,
    },
    if_not: [],
  };
}

/** Calculators that this step leads to, with what the job knows filled in. */
function OnBench({ job }: { job: JobState }) {
  if (job.bench.length === 0) return null;
  return (
    <p className="mt-1 flex flex-wrap items-center gap-x-3">
      <strong className="font-semibold text-ink">On the Bench</strong>
      {job.bench.map((link) => (
        <Link
          key={link.operation + link.label}
          className="inline-flex min-h-11 items-center underline"
          to={`/bench/${link.operation}?found=1&${new URLSearchParams(link.given).toString()}`}
        >
          {link.label}
        </Link>
      ))}
    </p>
  );
}

const SHOWN_BESIDE = [
  "value",
  "read_back",
  "reason",
  "early_reason",
  "username",
  "asset",
  "before",
  "proven",
  "procedure",
  "reached",
];

/** A refusal that belongs to no field on the screen, and entries that wait for the server. */
function Refusal({ writer, job }: { writer: Writer; job: JobState }) {
  const p = writer.problem;
  const values = [
    ...[...job.asked, ...job.mishaps].flatMap((form) => form.fields),
    ...job.tasks.flatMap((todo) => todo.asks.flatMap((ask) => ask.values)),
  ];
  const beside = [...SHOWN_BESIDE, ...values.map((v) => v.id)];
  if (!p || p.field === "password" || beside.includes(p.field.replace("data.", ""))) return null;
  return (
    <p role="alert" className="rounded-xl border-2 border-outside p-3">
      <strong>{p.message}</strong> {p.remedy}
    </p>
  );
}

function Closed({ job, user, writer }: { job: JobState; user: Me; writer: Writer }) {
  return (
    <>
      <CameTo job={job} />
      {job.clocks.map((line) => (
        <p key={line} className="rounded-lg bg-caution px-3 py-2 text-[14px]">
          {line}
        </p>
      ))}
      {job.status !== "voided" && <Papers job={job} user={user} writer={writer} />}
      <Link
        className="inline-flex min-h-11 items-center underline"
        to={`/instruments/${job.instrument.tag}`}
      >
        {job.instrument.tag}: history and next due
      </Link>
    </>
  );
}

function Papers({ job, user, writer }: { job: JobState; user: Me; writer: Writer }) {
  const files = `api/v1/records/${job.job}/certificate`;
  const signature = useQuery(jobQueries.signature(job.job, job.seq));
  return (
    <>
      <p>
        Signed by {job.signed_by}. {job.review && `Review: ${job.review}.`}
      </p>
      {signature.data?.account_note && (
        <p className="rounded-xl bg-sunk p-3">{signature.data.account_note}</p>
      )}
      <a
        href={`${files}.pdf`}
        target="_blank"
        rel="noreferrer"
        className="rounded-xl bg-accent px-5 py-3 text-center text-lg font-semibold text-on-accent"
      >
        Open the certificate
      </a>
      <p className="flex gap-2">
        {(["pdf", "json", "csv"] as const).map((kind) => (
          <a
            key={kind}
            href={`${files}.${kind}`}
            download={`${job.job}.${kind}`}
            className="min-h-11 flex-1 rounded-xl border border-line py-2.5 text-center"
          >
            {kind.toUpperCase()}
          </a>
        ))}
      </p>
      <Issues job={job.job} seq={job.seq} />
      {job.follow_up === "open" && (
        <FollowUp may={user.can.includes("job.follow")} writer={writer} />
      )}
      {job.status === "signed" && user.can.includes("job.review") && <ReviewBox writer={writer} />}
      {user.can.includes("job.amend") && <Amend job={job.job} seq={job.seq} />}
    </>
  );
}
