import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import type { JobState, RunState, Schemas } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { useNextOfRound, type InRound } from "../../../ui/round";
import { jobQueries } from "../api";
import { Blocks } from "../Blocks";
import { runOf } from "../runs";
import type { Live } from "../useLive";
import type { NewEvent } from "../useWriter";
import { LivePanel } from "./LivePanel";
import { LiveTable } from "./LiveTable";
import { MainButton } from "./MainButton";
import { Reason } from "./Reason";
import { RefusalBox } from "./RefusalBox";
import { outOf } from "./together";
import { TypedValues } from "./TypedValues";
import { intoView, mayTake, problemAt, type StepProps } from "./types";

type Task = Schemas["Task"];
type Props = StepProps & {
  live: Live;
  task: Task;
  retake: number;
  onTaken: () => void;
  round?: InRound;
};

/** A step in the way of its family: what it says, one thing to press, values live or typed. */
export function TaskStep(props: Props) {
  const { job, step, writer, task, live } = props;
  const run = runOf(job, step);
  const [typing, setTyping] = useState(!job.instrument.rig);
  const rig = job.instrument.rig && !typing && !task.by_hand;
  const together = job.instrument.rig ? (live.frame?.shown ?? []) : [];
  const source = job.instrument.rig ? ("simulated" as const) : ("typed" as const);
  const events: NewEvent[] = task.events.map((e) => ({ ...e, source }));
  /** What a button sends; a live one takes what the rig shows at this moment. */
  const sent = (e: Schemas["Sent"], takes: boolean): NewEvent => ({
    ...e,
    source,
    data: takes && e.kind === task.kind ? { ...e.data, sample_at: live.frame?.t } : e.data,
  });
  const refused = task.refusal && !task.refusal.agreed ? task.refusal : null;
  const common = { ...props, run, events, together, source };
  const values = task.way !== "send";
  return (
    <>
      <Blocks blocks={task.blocks.filter((b) => b.kind !== "timer" || !rig)} />
      {rig && values && together.length > 0 && <LiveTable shown={together} lost={live.lost} />}
      {rig && values && together.length === 0 && (
        <LivePanel frame={live.frame} lost={live.lost} run={run} />
      )}
      {rig && live.frame?.beside && <Beside beside={live.frame.beside} />}
      {refused && (
        <RefusalBox writer={writer} refusal={refused} unit={task.columns[0]?.unit ?? ""} />
      )}
      {task.way === "send" && !refused && (
        <MainButton busy={writer.sending} onClick={() => void writer.send(events)}>
          {task.label}
        </MainButton>
      )}
      {task.way === "read" && (rig ? <ReadLive {...common} /> : <ReadTyped {...common} />)}
      {task.way === "set" && !refused && (rig ? <SetLive {...common} /> : <SetTyped {...common} />)}
      {task.others
        .filter((other) => !other.live || (rig && live.frame?.shown?.every((s) => s.steady)))
        .map((other) => (
          <Button
            key={other.label}
            disabled={writer.sending}
            onClick={() => void writer.send(other.events.map((e) => sent(e, other.live)))}
          >
            {other.label}
          </Button>
        ))}
      {job.instrument.rig && values && !task.by_hand && (
        <Button onClick={() => setTyping(!typing)}>
          {typing ? "Back to the live value" : "Type it in"} <kbd className="text-muted">e</kbd>
        </Button>
      )}
    </>
  );
}

/** What the device says of itself while one waits. */
function Beside({ beside }: { beside: Schemas["Beside"] }) {
  const { said, loud, aside } = beside;
  if (!said && !loud && !aside) return null;
  return (
    <p
      className="flex flex-wrap justify-between gap-x-3 text-[14.5px]"
      data-testid="beside"
      aria-live="polite"
    >
      <span>
        {said}
        {said && loud && " · "}
        {loud && <strong className="text-outside">{loud}</strong>}
      </span>
      {aside && <span className="digits text-muted">{aside}</span>}
    </p>
  );
}

type Inner = Props & {
  run: RunState;
  events: NewEvent[];
  together: Schemas["OnDisplay"][];
  source: "typed" | "simulated";
};

const pointOf = ({ task, run, retake }: Inner) => {
  const point = run.points[retake >= 0 ? retake : run.current];
  return point && { run: task.run, point: point.index, applied: point.stands_for };
};

/** Takes the reading when it is steady; what belongs to it is sent with it. */
function ReadLive(props: Inner) {
  const { step, writer, live, task, events, onTaken } = props;
  const { frame } = live;
  const [armed, setArmed] = useState(true);
  const [early, setEarly] = useState(false);
  const busy = useRef(false);
  const point = pointOf(props);
  const steady = frame?.steady ?? false;
  const take = async (reason = "") => {
    if (!frame || !point || busy.current) return;
    busy.current = true;
    const data: Record<string, unknown> = { ...point, sample_at: frame.t };
    if (reason) data.early_reason = reason;
    if (await writer.send([{ kind: task.kind, source: "simulated", data }, ...events])) onTaken();
    busy.current = false;
  };
  const next = () => {
    if (frame?.steady && armed && !busy.current && mayTake(writer)) void take();
  };
  const latest = useRef(next);
  useEffect(() => {
    latest.current = next;
  });
  // With every frame of the live signal, see whether it is steady.
  useEffect(() => latest.current(), [frame?.t]);
  return (
    <>
      <MainButton
        busy={writer.sending || !frame}
        onClick={() => {
          if (steady) void take();
          else setArmed(!armed);
        }}
      >
        {armed ? "Takes it when it is steady" : task.label}
      </MainButton>
      <p className="sr-only">{step.title}</p>
      {!steady && !early && (
        <Button look="quiet" className="text-[15px]" onClick={() => setEarly(true)}>
          Take it before it is steady
        </Button>
      )}
      {early && (
        <Reason
          label="Why take it now?"
          suggestions={task.early}
          button="Take it now"
          problem={problemAt(writer, "data.early_reason")}
          busy={writer.sending}
          onReason={(reason) => void take(reason)}
          onCancel={() => setEarly(false)}
        />
      )}
    </>
  );
}

function ReadTyped(props: Inner) {
  const { job, writer, task, run, events, onTaken, round } = props;
  const queries = useQueryClient();
  const next = useNextOfRound();
  const last = round && task.in_round !== "";
  /** In a round, what is left of the job is stated with the last look. */
  const goOn = async () => {
    onTaken();
    const now = queries.getQueryData<JobState>(jobQueries.state(job.job).queryKey);
    const leaves = now?.steps.find((s) => s.id === now.current_step);
    if (!last || !now || !leaves?.leaves || leaves.kind === "sign") return;
    const off = await writer.send(outOf(now));
    if (off && round?.next) next.mutate(round.id);
  };
  const point = pointOf(props);
  if (!point) return null;
  return (
    <TypedValues
      job={job}
      writer={writer}
      columns={task.columns}
      place={`${run.id}:${point.point}`}
      button={last ? `${task.in_round}${round?.next ? `, next: ${round.next}` : ""}` : task.typed}
      onStored={() => void goOn()}
      also={events}
      event={(values) => ({ kind: task.kind, data: { ...point, ...values } })}
    />
  );
}

/** Sets the simulated device once it is steady. */
function SetLive({ step, writer, live, task, events }: Inner) {
  const { frame } = live;
  const together = frame?.shown ?? [];
  const steady = together.length ? together.every((s) => s.steady) : (frame?.steady ?? false);
  const problem = writer.problem;
  const set = (extra: Record<string, unknown> = {}) => {
    if (!frame) return;
    const data = { step: step.id, sample_at: frame.t, ...extra };
    void writer.send([{ kind: task.kind, source: "simulated", data }, ...events]);
  };
  return (
    <>
      <MainButton busy={writer.sending || !steady} onClick={() => set()}>
        {steady ? task.label : "Waits until steady"}
      </MainButton>
      {problem && /^data\.(before|after|early_reason|[a-z](_after)?)$/.test(problem.field) && (
        <div
          role="alert"
          ref={intoView}
          className="rounded-xl border-l-4 border-caution-edge bg-caution p-3"
        >
          <p>
            <strong>{problem.message}</strong> {problem.remedy}
          </p>
          {problem.code === "slip.suspected" && (
            <Button className="mt-2" onClick={() => set({ kept: true })}>
              Keep it
            </Button>
          )}
        </div>
      )}
    </>
  );
}

function SetTyped({ job, step, writer, task, events, together, source }: Inner) {
  return (
    <TypedValues
      job={job}
      writer={writer}
      columns={task.columns}
      place={step.id}
      button={task.typed}
      also={events}
      now={together}
      file={task.file}
      event={(values) => ({
        kind: task.kind,
        // What is set by hand is set in the rig as well, where it is read beside something else.
        source: task.by_hand ? source : "typed",
        data: { step: step.id, ...values },
      })}
    />
  );
}
