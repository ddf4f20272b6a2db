import { useEffect, useRef, useState } from "react";
import type { Point, Problem, RunState } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { runOf } from "../runs";
import { command, type Live } from "../useLive";
import { FromPaper } from "./FromPaper";
import { InBlock, PutIn } from "./InBlock";
import { LivePanel } from "./LivePanel";
import { MainButton } from "./MainButton";
import { Reason } from "./Reason";
import { Turns } from "./Turns";
import { TypedValues } from "./TypedValues";
import { mayTake, problemAt, type StepProps } from "./types";

type Props = StepProps & { live: Live; retake: number; onTaken: () => void };

/** One point after the other, live from a rig or typed in; both may mix within a run. */
export function CaptureStep(props: Props) {
  const { job, step, writer, live, retake, onTaken } = props;
  const run = runOf(job, step);
  const [typing, setTyping] = useState(!job.instrument.rig);
  const [paper, setPaper] = useState(false);
  const point = run.points[retake >= 0 ? retake : run.current];
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const busy = event.target instanceof HTMLElement && event.target.matches("input, textarea");
      if (event.key === "e" && !busy && job.instrument.rig) setTyping((t) => !t);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [job.instrument.rig]);
  const left = run.points.filter((p) => !p.event).length;
  if (!point) return null;
  // Nothing behind the form takes the focus while its lines are stored.
  if (paper && left > 0)
    return <FromPaper job={job} run={run} writer={writer} onClose={() => setPaper(false)} />;
  if (job.in_block) return <InBlock job={job} live={live} />;
  return (
    <>
      {point.equivalent && <p className="text-[15px] text-muted">{point.equivalent}</p>}
      {job.instrument.rig && !typing ? (
        <FromRig {...props} key={`${run.id}`} run={run} point={point} live={live} />
      ) : (
        <TypedValues
          job={job}
          writer={writer}
          columns={run.columns}
          place={`${run.id}:${point.index}`}
          button="Take reading"
          onStored={onTaken}
          beside={(values, beside) => ({
            kind: "reading_taken",
            data: { run: run.id, point: run.points.length, ...values, beside },
          })}
          event={(values) => ({
            kind: "reading_taken",
            data: {
              run: run.id,
              point: point.index,
              ...(point.stands_for ? { applied: point.stands_for } : {}),
              ...values,
            },
          })}
        />
      )}
      {typing && retake < 0 && left > 1 && run.columns.every((c) => !c.tap && !c.row) && (
        <Button onClick={() => setPaper(true)}>A whole run from the paper form</Button>
      )}
      {!point.stands_for && retake < 0 && (
        <Unreachable key={`${run.id}:${point.index}`} run={run} point={point} writer={writer} />
      )}
      {job.by_turns && <Turns job={job.job} block={job.by_turns} />}
      {job.block && <PutIn job={job} run={run} writer={writer} />}
      {job.instrument.rig && (
        <Button onClick={() => setTyping(!typing)}>
          {typing ? "Back to the live value" : "Type it in"} <kbd className="text-muted">e</kbd>
        </Button>
      )}
    </>
  );
}

/** A target that the plant does not allow today: left out with a reason, never made up. */
function Unreachable({
  run,
  point,
  writer,
}: { run: RunState; point: Point } & Pick<Props, "writer">) {
  const [asking, setAsking] = useState(false);
  if (!asking)
    return (
      <Button look="quiet" className="text-[15px]" onClick={() => setAsking(true)}>
        This point cannot be reached
      </Button>
    );
  return (
    <Reason
      label={`Why is ${point.target} ${run.input_unit} left out?`}
      suggestions={["The process does not allow it today", "The source does not reach so far"]}
      button="Leave this point out"
      problem={problemAt(writer, "data.reason")}
      busy={writer.sending}
      onReason={(reason) =>
        void writer.send([{ kind: "left_out", data: { run: run.id, point: point.index, reason } }])
      }
      onCancel={() => setAsking(false)}
    />
  );
}

type RigProps = Props & { run: RunState; point: Point };

function FromRig({ job, step, run, writer, live, point, onTaken }: RigProps) {
  const { frame, lost } = live;
  const [armed, setArmed] = useState(false);
  const [alone, setAlone] = useState(false);
  const [early, setEarly] = useState(false);
  const [refused, setRefused] = useState<Problem | null>(null);
  const there = frame !== null && Number(frame.commanded) === Number(point.target_value);
  const busy = useRef(false);
  const key = `${step.run}:${point.index}`;
  const wentTo = useRef("");
  const steady = frame?.steady ?? false;

  const go = async () => {
    setRefused(
      await command(job.instrument.tag, {
        kind: run.order === "fix" ? "fix" : "apply",
        scale: run.scale,
        value: Number(point.target_value),
      }),
    );
  };
  const take = async (reason = "") => {
    if (!frame || busy.current) return;
    busy.current = true;
    const data: Record<string, unknown> = {
      run: step.run,
      point: point.index,
      sample_at: frame.t,
    };
    if (reason) data.early_reason = reason;
    const stored = await writer.send([{ kind: "reading_taken", source: "simulated", data }]);
    if (stored) {
      setArmed(false);
      setEarly(false);
      onTaken();
    }
    busy.current = false;
  };
  const next = () => {
    if (!frame || busy.current || !mayTake(writer)) return;
    if (there && frame.steady && (armed || alone)) void take();
    if (!there && alone && wentTo.current !== key) {
      wentTo.current = key;
      void go();
    }
  };
  const latest = useRef(next);
  useEffect(() => {
    latest.current = next;
  });
  // With every frame of the live signal, see whether something is due.
  useEffect(() => latest.current(), [frame?.t]);

  return (
    <>
      <LivePanel frame={frame} lost={lost} run={run} />
      {!there ? (
        <MainButton onClick={() => void go()} busy={!frame}>
          {run.order === "fix" ? "Fix" : "Go to"} {point.target}{" "}
          {run.order === "fix" ? run.output_unit : run.input_unit}
        </MainButton>
      ) : (
        <MainButton onClick={() => (steady ? void take() : setArmed(!armed))} busy={writer.sending}>
          {armed || alone ? "Waits until steady" : "Take reading"}
        </MainButton>
      )}
      {refused && (
        <p role="alert" className="text-[14px] text-outside">
          {refused.message} {refused.remedy}
        </p>
      )}
      <label className="flex min-h-11 items-center gap-2 text-[15px]">
        <input
          type="checkbox"
          className="size-5 accent-accent"
          checked={alone}
          onChange={(e) => {
            setAlone(e.target.checked);
            setArmed(false);
            writer.clear();
          }}
        />
        Go on by itself, point after point
      </label>
      {there && !steady && !early && (
        <Button look="quiet" className="text-[15px]" onClick={() => setEarly(true)}>
          Take it before it is steady
        </Button>
      )}
      {early && (
        <Reason
          label="Why take it now?"
          suggestions={["It will not get steadier: process noise", "Time window is over"]}
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
