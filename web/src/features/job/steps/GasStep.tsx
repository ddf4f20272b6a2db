import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import type { JobState, RunState, Schemas } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { clock, useNow } from "../../../ui/time";
import { useOpenJob } from "../../../ui/useOpenJob";
import { jobQueries } from "../api";
import type { InRound } from "../../../ui/round";
import { runOf } from "../runs";
import type { Live } from "../useLive";
import type { NewEvent } from "../useWriter";
import { ForceBox } from "./ForceBox";
import { LivePanel } from "./LivePanel";
import { MainButton } from "./MainButton";
import { Reason } from "./Reason";
import { outOf } from "./together";
import { TypedValues } from "./TypedValues";
import { mayTake, problemAt, type StepProps } from "./types";

type Gas = Schemas["GasState"];
type Props = StepProps & {
  live: Live;
  gas: Gas;
  retake: number;
  onTaken: () => void;
  round?: InRound;
};
type Source = "typed" | "simulated";

/** One gas: open the cylinder, wait, read or set, shut it again. By rig or typed in. */
export function GasStep(props: Props) {
  const { job, step, writer, gas, live } = props;
  const run = runOf(job, step);
  const [typing, setTyping] = useState(!job.instrument.rig);
  const rig = job.instrument.rig && !typing;
  const source: Source = job.instrument.rig ? "simulated" : "typed";
  const shut: NewEvent = { kind: "gas_off", source, data: { step: step.id } };
  const open = (extra: Record<string, unknown> = {}) =>
    void writer.send([
      {
        kind: "gas_on",
        source,
        data: { step: step.id, role: gas.role, flow: gas.flow_value, ...extra },
      },
    ]);
  const refused = gas.force && !gas.force.agreed;
  const common = { ...props, run, shut };
  return (
    <>
      {gas.cylinder && <Bottle gas={gas} />}
      {gas.advice && <p className="text-[15px]">{gas.advice}</p>}
      {rig && gas.todo !== "open" && <LivePanel frame={live.frame} lost={live.lost} run={run} />}
      {live.frame?.gas && rig && <Waits frame={live.frame} gas={gas} />}
      {!rig && gas.since && <Been gas={gas} />}
      {refused && (gas.todo === "open" || gas.todo === "set") && (
        <ForceBox job={job} step={step} writer={writer} gas={gas} />
      )}
      {gas.todo === "open" && !refused && (
        <MainButton busy={writer.sending} onClick={() => open()}>
          Open {gas.cylinder} at {gas.flow}
        </MainButton>
      )}
      {gas.todo === "shut" && (
        <MainButton busy={writer.sending} onClick={() => void writer.send([shut])}>
          Shut {gas.cylinder || "the gas"}
        </MainButton>
      )}
      {gas.todo === "read" && (rig ? <ReadLive {...common} /> : <ReadTyped {...common} />)}
      {gas.todo === "set" && !refused && (rig ? <SetLive {...common} /> : <SetTyped {...common} />)}
      {gas.todo === "set" && gas.role && (
        <Button disabled={writer.sending} onClick={() => void writer.send([shut])}>
          Shut {gas.cylinder} without setting
        </Button>
      )}
      {job.instrument.rig && gas.todo !== "open" && gas.todo !== "shut" && (
        <Button onClick={() => setTyping(!typing)}>
          {typing ? "Back to the live value" : "Type it in"} <kbd className="text-muted">e</kbd>
        </Button>
      )}
    </>
  );
}

function Bottle({ gas }: { gas: Gas }) {
  return (
    <dl className="grid grid-cols-[76px_1fr] gap-x-2 rounded-xl bg-sunk px-3 py-2 text-[14.5px]">
      <dt className="text-muted">Cylinder</dt>
      <dd>
        <strong>{gas.cylinder}</strong>, {gas.contents}
      </dd>
      <dt className="text-muted">Flow</dt>
      <dd className="digits">
        <strong className="text-[19px]">{gas.flow}</strong>, about {gas.minutes} min
      </dd>
      <dt className="text-muted">Gas left</dt>
      <dd className="digits">
        {gas.left}; this job still takes up to {gas.needed}
      </dd>
    </dl>
  );
}

/** How long the gas is on, for those who watch the display themselves. */
function Been({ gas }: { gas: Gas }) {
  const now = useNow();
  const left = Date.parse(gas.ready_at) - now;
  return (
    <div className="rounded-xl bg-live px-4 py-3 text-live-ink">
      <p className="digits text-[38px] leading-none font-semibold" role="timer">
        {clock(left)}
      </p>
      <p className="mt-1.5 text-[14px] text-live-muted">
        {left > 0 ? `until ${gas.minutes} min of gas are over` : "long enough: read it now"}
      </p>
    </div>
  );
}

const ALARMS: Record<string, string> = {
  live: "Alarm: live",
  latched: "Alarm: left over, to be reset",
  none: "",
};

/** What the detector's own state says while one waits. */
function Waits({ frame, gas }: { frame: NonNullable<Live["frame"]>; gas: Gas }) {
  const g = frame.gas;
  if (!g) return null;
  const held = g.mode === "held" ? "Output held: it does not measure" : "";
  const alarm = g.alarm === "live" && gas.since ? "alarm on, as it should" : ALARMS[g.alarm];
  const said = [g.wait_text, alarm, held].filter(Boolean);
  if (said.length === 0 && !g.drawn) return null;
  return (
    <p
      className="flex flex-wrap justify-between gap-x-3 text-[14.5px]"
      data-testid="gas-wait"
      aria-live="polite"
    >
      <span className={held ? "font-semibold text-outside" : ""}>{said.join(" · ")}</span>
      {gas.role && g.drawn && <span className="digits text-muted">{g.drawn} drawn</span>}
    </p>
  );
}

type Inner = Props & { run: RunState; shut: NewEvent };

/** Takes the reading when it is steady, and shuts the cylinder with it. */
function ReadLive({ step, writer, live, gas, run, shut, retake, onTaken }: Inner) {
  const { frame } = live;
  const [armed, setArmed] = useState(true);
  const [early, setEarly] = useState(false);
  const busy = useRef(false);
  const index = retake >= 0 ? retake : run.current;
  const point = run.points[index];
  const steady = frame?.steady ?? false;
  const take = async (reason = "") => {
    if (!frame || !point || busy.current) return;
    busy.current = true;
    const data: Record<string, unknown> = { run: run.id, point: index, sample_at: frame.t };
    if (reason) data.early_reason = reason;
    data.applied = point.stands_for;
    const events: NewEvent[] = [{ kind: "reading_taken", source: "simulated", data }];
    if (gas.shut_after) events.push(shut);
    if (await writer.send(events)) onTaken();
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
  const what = gas.shut_after ? `Take it and shut ${gas.cylinder}` : "Take reading";
  return (
    <>
      <MainButton
        busy={writer.sending || !frame}
        onClick={() => {
          if (steady) void take();
          else setArmed(!armed);
        }}
      >
        {armed ? "Takes it when it is steady" : what}
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
          suggestions={["It will not get steadier", "No answer: nothing will come"]}
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

function ReadTyped({ job, writer, gas, run, shut, retake, onTaken, round }: Inner) {
  const queries = useQueryClient();
  const open = useOpenJob();
  const last = round?.active && run.id === "air_left";
  /** In a round clean air is the last thing looked at: bypass off and on with one entry. */
  const goOn = async () => {
    onTaken();
    const now = queries.getQueryData<JobState>(jobQueries.state(job.job).queryKey);
    if (!last || !now || !["alarm", "unbypass"].includes(now.current_step)) return;
    const off = await writer.send(outOf(now));
    if (off && round?.next) open.mutate({ tag: round.next, like: job.job });
  };
  const index = retake >= 0 ? retake : run.current;
  const point = run.points[index];
  if (!point) return null;
  return (
    <TypedValues
      key={`${run.id}:${index}`}
      job={job}
      run={run}
      writer={writer}
      fields={run.points_to_type}
      place={`${run.id}:${index}`}
      button={
        last
          ? `Clean air, alarm reset, bypass off${round?.next ? `, next: ${round.next}` : ""}`
          : gas.shut_after
            ? `Take it and shut ${gas.cylinder}`
            : "Take reading"
      }
      onStored={() => void goOn()}
      also={gas.shut_after ? [shut] : []}
      event={(values) => ({
        kind: "reading_taken",
        data: { run: run.id, point: index, applied: point.stands_for, ...values },
      })}
    />
  );
}

/** Sets zero or span in the simulated detector once it is steady. */
function SetLive({ step, writer, live, gas, shut }: Inner) {
  const { frame } = live;
  const steady = frame?.steady ?? false;
  const problem = writer.problem;
  const set = (extra: Record<string, unknown> = {}) => {
    if (!frame) return;
    const events: NewEvent[] = [
      {
        kind: "gas_set",
        source: "simulated",
        data: { step: step.id, sample_at: frame.t, ...extra },
      },
    ];
    if (gas.role) events.push(shut);
    void writer.send(events);
  };
  return (
    <>
      <MainButton busy={writer.sending || !steady} onClick={() => set()}>
        {steady
          ? `Set ${gas.end} to ${gas.target} ${gas.unit}${gas.role ? ` and shut ${gas.cylinder}` : ""}`
          : "Waits until steady"}
      </MainButton>
      {problem && /^data\.(before|after|early_reason)$/.test(problem.field) && (
        <div role="alert" className="rounded-xl border-l-4 border-caution-edge bg-caution p-3">
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

function SetTyped({ job, step, writer, gas, run, shut }: Inner) {
  return (
    <TypedValues
      job={job}
      run={run}
      writer={writer}
      fields={["before", "after"]}
      place={step.id}
      button={`${gas.end === "zero" ? "Zero" : "Span"} is set${gas.role ? `: shut ${gas.cylinder}` : ""}`}
      also={gas.role ? [shut] : []}
      event={(values) => ({ kind: "gas_set", data: { step: step.id, ...values } })}
    />
  );
}
