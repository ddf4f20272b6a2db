import { useEffect, useRef, useState } from "react";
import type { Problem } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { command, type Live } from "../useLive";
import { LivePanel } from "./LivePanel";
import { MainButton } from "./MainButton";
import { Reason } from "./Reason";
import { TypedValues } from "./TypedValues";
import { mayTake, problemAt, type StepProps } from "./types";

type Props = StepProps & { live: Live };

/** One adjustment after the other, as advised, until both ends are steady. */
export function AdjustStep(props: Props) {
  const { job, step, writer } = props;
  const [typing, setTyping] = useState(!job.instrument.rig);
  const [ending, setEnding] = useState(false);
  const a = job.adjustment;
  return (
    <>
      {a.advice && <p className="text-[15px]">{a.advice}</p>}
      {a.passes_left && (
        <p className="text-[14px] text-muted">
          {a.direction &&
            (a.direction === "raise" ? "The output must go up. " : "The output must come down. ")}
          Expected passes still to go: <span className="digits">{a.passes_left}</span>
        </p>
      )}
      {job.instrument.rig && !typing ? (
        <ByRig {...props} key={`${a.hop}${a.end}${a.action}${job.seq}`} />
      ) : (
        <TypedValues
          key={`${a.hop}${a.end}${a.action}${job.seq}`}
          job={job}
          writer={writer}
          columns={a.columns}
          place={`adjust:${a.hop}:${a.end}:${a.action}`}
          button={a.action === "check" ? "Record the check" : "Record the adjustment"}
          event={(values) => ({
            kind: "adjusted",
            data: {
              hop: a.hop,
              end: a.end,
              action: a.action,
              ...(a.stands_for ? { applied: a.stands_for } : {}),
              ...values,
            },
          })}
        />
      )}
      <div className="flex gap-2">
        {job.instrument.rig && (
          <Button className="flex-1" onClick={() => setTyping(!typing)}>
            {typing ? "Back to the live value" : "Type it in"}
          </Button>
        )}
        {a.history.length > 0 && (
          <Button className="flex-1" onClick={() => setEnding(true)}>
            End adjusting
          </Button>
        )}
      </div>
      {ending && (
        <Reason
          label="Why end before both ends are steady?"
          suggestions={["No further improvement", "The device refuses"]}
          button="End adjusting"
          problem={problemAt(writer, "data.reason")}
          busy={writer.sending}
          onReason={(reason) =>
            void writer.send([
              { kind: "decided", data: { step: step.id, choice: "enough", reason } },
            ])
          }
          onCancel={() => setEnding(false)}
        />
      )}
    </>
  );
}

function ByRig({ job, writer, live }: Props) {
  const a = job.adjustment;
  const { frame, lost } = live;
  const [trimmedAt, setTrimmedAt] = useState(-1);
  const [armed, setArmed] = useState(false);
  const [refused, setRefused] = useState<Problem | null>(null);
  const there = frame !== null && Number(frame.commanded) === Number(a.apply_value);
  // A frame from before the trim says nothing about what the trim did.
  const steady = frame !== null && frame.steady && frame.t > trimmedAt;
  const needsTrim = a.action === "trim" && trimmedAt < 0;
  const go = () =>
    void command(job.instrument.tag, { kind: a.order, value: Number(a.apply_value) }).then(
      setRefused,
    );
  const trim = async () => {
    const hop = a.rig_hop === "" ? "sensor" : a.rig_hop;
    const end = a.end === "span" ? "span" : "zero";
    const to = a.aim ? Number(a.aim) : null;
    const refusal = await command(job.instrument.tag, { kind: "trim", hop, end, to });
    setRefused(refusal);
    if (!refusal) setTrimmedAt(frame?.t ?? 0);
  };
  const record = () =>
    void writer.send([
      {
        kind: "adjusted",
        source: "simulated",
        data: {
          hop: a.hop,
          end: a.end,
          action: a.action,
          ...(a.stands_for ? { applied: a.stands_for } : {}),
          sample_at: frame?.t ?? 0,
        },
      },
    ]);
  // A record refused as not steady stays armed and is tried with the next frame.
  const act = () => {
    setArmed(!needsTrim);
    if (needsTrim) void trim();
    else record();
  };
  const next = () => {
    if (armed && there && steady && mayTake(writer)) act();
  };
  const latest = useRef(next);
  useEffect(() => {
    latest.current = next;
  });
  useEffect(() => latest.current(), [frame?.t]);
  const label = needsTrim ? `Do the ${a.hop_label}, ${a.end}` : "Record the result";
  return (
    <>
      <LivePanel frame={frame} lost={lost} run={job.as_found} />
      {!there ? (
        <MainButton busy={!frame} onClick={go}>
          {a.order === "fix" ? "Fix" : "Go to"} {a.apply}
        </MainButton>
      ) : (
        <MainButton
          key={label}
          busy={writer.sending}
          onClick={() => (steady ? act() : setArmed(!armed))}
        >
          {armed ? "Waits until steady" : label}
        </MainButton>
      )}
      {refused && (
        <p role="alert" className="text-[14px] text-outside">
          {refused.message} {refused.remedy}
        </p>
      )}
    </>
  );
}
