import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { JobState } from "../../api/client";
import type { Me } from "../../api/session";
import { Button } from "../../ui/Button";
import { jobQueries } from "./api";
import { ReviewBox } from "./ReviewBox";
import { Amend, Issues } from "./Amend";
import { FollowUp } from "./FollowUp";
import { TakeOver } from "./TakeOver";
import { Waiting } from "./Waiting";
import { useRound, type InRound } from "../../ui/round";
import { runOf } from "./runs";
import { CameTo } from "./steps/CameTo";
import { AskedStep } from "./steps/AskedStep";
import { AdjustStep } from "./steps/AdjustStep";
import { CaptureStep } from "./steps/CaptureStep";
import { DecideStep } from "./steps/DecideStep";
import { IfNot } from "./steps/IfNot";
import { KitStep } from "./steps/KitStep";
import { Locks } from "./steps/Locks";
import { RecordStep } from "./steps/RecordStep";
import { RoundStep } from "./steps/RoundStep";
import { SetStep } from "./steps/SetStep";
import { SignStep } from "./steps/SignStep";
import { ChecklistStep } from "./steps/ChecklistStep";
import { OnOffStep, TimerStep } from "./steps/SimpleSteps";
import { TaskStep } from "./steps/TaskStep";
import { TogetherStep } from "./steps/TogetherStep";
import { problemAt, type StepProps } from "./steps/types";
import type { Live } from "./useLive";
import type { Writer } from "./useWriter";

type Props = {
  job: JobState;
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
  const { job, user, writer, retake, onUndo, onNote } = props;
  const step = job.steps.find((s) => s.id === job.current_step);
  const mayRecord = user.can.includes("job.record");
  const round = useRound(job.job);
  const leaving = round !== null && (step?.leaves ?? false);
  const again = retake >= 0 && step?.kind === "capture";
  const run = runOf(job, step);
  const point = run.points[retake];
  const asked = job.asked[0];
  const [apart, setApart] = useState("");
  const [saying, setSaying] = useState({ step: "", kind: "" });
  const said = job.mishaps.find((m) => m.kind === saying.kind && saying.step === job.current_step);
  return (
    <section
      aria-label="Now"
      className="flex min-h-0 scroll-pb-24 flex-col gap-2.5 *:shrink-0 lg:overflow-auto rounded-[14px] border border-line bg-card p-4"
    >
      <p className="text-[13.5px] text-muted">
        {again
          ? "Taking again"
          : asked
            ? "Before you sign"
            : said
              ? "What happened"
              : job.action.kicker}
      </p>
      <h2 className="text-[21px] leading-tight font-semibold" aria-live="polite">
        {again && point
          ? `Go back to ${point.target} ${run.order === "fix" ? run.output_unit : run.input_unit} and take it again`
          : (asked?.title ?? said?.title ?? job.action.title)}
      </h2>
      {job.action.caution && (
        <p className="rounded-lg border-l-4 border-caution-edge bg-caution px-3 py-2 text-[14px] leading-snug">
          {job.action.caution}
        </p>
      )}
      {step && !mayRecord && (
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
        <AskedStep key={asked.kind} asked={asked} job={job.job} writer={writer} />
      ) : said && mayRecord ? (
        <AskedStep
          key={said.kind}
          asked={said}
          job={job.job}
          writer={writer}
          onDone={() => setSaying({ step: "", kind: "" })}
          onCancel={() => setSaying({ step: "", kind: "" })}
        />
      ) : step && mayRecord && job.together && !again && !leaving && apart !== step.id ? (
        <TogetherStep job={job} writer={writer} onApart={() => setApart(step.id)} />
      ) : (
        step && mayRecord && <Body key={step.id} {...props} step={step} round={round} />
      )}
      {step?.if_not && mayRecord && !asked && !said && !again && !leaving && (
        <IfNot
          key={`not ${step.id}`}
          label={step.if_not}
          problem={problemAt(writer, "data.reason")}
          busy={writer.sending}
          onReason={(reason) =>
            void writer.send([
              { kind: "decided", data: { step: step.id, choice: "not_here", reason } },
            ])
          }
        />
      )}
      {!asked && !said && (
        <Locks key={`locks ${job.current_step}`} job={job} user={user} writer={writer} />
      )}
      {step?.refused.map((line, n) => (
        <p key={n} className="rounded-lg border-l-4 border-outside bg-sunk px-3 py-2 text-[14px]">
          {line}. The old value stays.
        </p>
      ))}
      {!step && <Closed job={job} user={user} writer={writer} />}
      <Waiting writer={writer} />
      <Refusal writer={writer} job={job} />
      <TakeOver job={job} user={user} writer={writer} />
      <div className="mt-auto border-t border-line pt-2 text-[14.5px] text-muted">
        {step?.kind !== "capture" && step?.kind !== "adjust" && (
          <p>{asked?.why ?? said?.why ?? job.action.why}</p>
        )}
        {job.action.then && (
          <p className="mt-1">
            <strong className="font-semibold text-ink">Then</strong> {job.action.then}
          </p>
        )}
        <OnBench job={job} />
        {job.status === "open" && mayRecord && (
          <p className="mt-1.5 flex flex-wrap gap-1.5">
            {!asked &&
              !said &&
              job.mishaps
                .filter((m) => m.beside)
                .map((m) => (
                  <Button
                    key={m.kind}
                    className="flex-1 px-1.5 text-[14.5px] whitespace-nowrap text-ink"
                    onClick={() => setSaying({ step: job.current_step, kind: m.kind })}
                  >
                    {m.button}
                  </Button>
                ))}
            {job.last_undoable && writer.waiting === 0 && (
              <Button
                className="flex-1 px-1.5 text-[14.5px] whitespace-nowrap text-ink"
                onClick={onUndo}
              >
                Undo last
              </Button>
            )}
            <Button
              className="flex-1 px-1.5 text-[14.5px] whitespace-nowrap text-ink"
              onClick={onNote}
            >
              Add note
            </Button>
          </p>
        )}
      </div>
    </section>
  );
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

function Body({ step, round, ...props }: Props & Pick<StepProps, "step"> & { round: InRound }) {
  const common = { job: props.job, writer: props.writer, step };
  if (round && step.leaves) return <RoundStep {...common} round={round} />;
  if (props.job.task)
    return (
      <TaskStep
        {...common}
        live={props.live}
        task={props.job.task}
        round={round}
        retake={step.kind === "capture" ? props.retake : -1}
        onTaken={props.onRetaken}
      />
    );
  switch (step.kind) {
    case "kit":
      return <KitStep {...common} />;
    case "record":
      return <RecordStep {...common} live={props.live} />;
    case "checklist":
      return <ChecklistStep {...common} />;
    case "put_on":
    case "take_off":
      return <OnOffStep {...common} />;
    case "timer":
      return <TimerStep {...common} />;
    case "capture":
      return (
        <CaptureStep
          {...common}
          live={props.live}
          retake={props.retake}
          onTaken={props.onRetaken}
        />
      );
    case "decide":
      return <DecideStep {...common} />;
    case "adjust":
      return <AdjustStep {...common} live={props.live} />;
    case "set":
      return <SetStep {...common} live={props.live} />;
    case "sign":
      return <SignStep {...common} />;
    default:
      return null;
  }
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
  const columns = [
    ...job.asked.flatMap((a) => a.fields),
    ...(job.task?.columns ?? []),
    ...job.as_found.columns,
    ...job.adjustment.columns,
  ];
  const beside = [...SHOWN_BESIDE, ...columns.map((c) => c.id)];
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
