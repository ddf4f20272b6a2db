import { useEffect, useRef, useState } from "react";
import type { Problem } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { command } from "../useLive";
import { MainButton } from "./MainButton";
import { Reason } from "./Reason";
import { entry, intoView, mayTake, problemAt, type AskProps } from "./types";

/** Goes to a value, does what is ordered and takes what the rig shows, each when it is steady. */
export function ReadLive({ job, ask, writer, live, onTaken }: AskProps) {
  const { frame } = live;
  const { go, order } = ask;
  const [armed, setArmed] = useState(ask.at_once);
  const [alone, setAlone] = useState(false);
  const [early, setEarly] = useState(false);
  const [orderedAt, setOrderedAt] = useState(-1);
  const [refused, setRefused] = useState<Problem | null>(null);
  const busy = useRef(false);
  const wentTo = useRef("");
  const there = !go || (frame !== null && Number(frame.commanded) === Number(go.value));
  const due = orderedAt < 0 ? order : null;
  const shown = frame?.shown ?? [];
  // A frame from before an order says nothing about what the order did.
  const steady =
    frame !== null &&
    frame.t > orderedAt &&
    (shown.length > 0 ? shown.every((one) => one.steady) : frame.steady);
  const ready = steady || !ask.steadily;
  // What sets a device is pressed by hand, and only when it is steady.
  const pressed = ask.way === "set" && !go && !order;

  const tell = async (what: NonNullable<typeof go>) => {
    const { kind, scale, hop, end, setting, text, value } = what;
    const refusal = await command(job.instrument.tag, {
      kind,
      scale,
      setting,
      text,
      hop: hop || "output",
      end: end || "zero",
      ...(kind === "trim" ? { to: value ? Number(value) : null } : { value: Number(value) }),
    });
    setRefused(refusal);
    return refusal === null;
  };
  const goThere = () => {
    if (go) void tell(go);
  };
  const obey = async () => {
    if (order && (await tell(order))) setOrderedAt(ask.steadily ? (frame?.t ?? 0) : 0);
  };
  const take = async (reason = "") => {
    if (!frame || busy.current || !ask.sends) return;
    busy.current = true;
    const moment = ask.steadily ? { sample_at: frame.t } : {};
    const said = entry(ask.sends, { ...moment, ...(reason ? { early_reason: reason } : {}) });
    const also = ask.also.map((sent) => entry(sent));
    if (await writer.send([{ ...said, source: "simulated" }, ...also])) {
      setArmed(ask.at_once);
      setEarly(false);
      onTaken();
    }
    busy.current = false;
  };
  // What is refused as not steady stays armed and is tried with the next frame.
  const act = () => {
    setArmed(!due && !pressed);
    void (due ? obey() : take());
  };
  const next = () => {
    if (!frame || busy.current || !mayTake(writer)) return;
    if (there && ready && (armed || alone)) act();
    if (!there && alone && wentTo.current !== ask.id) {
      wentTo.current = ask.id;
      goThere();
    }
  };
  const latest = useRef(next);
  useEffect(() => {
    latest.current = next;
  });
  // With every frame of the live signal, see whether something is due.
  useEffect(() => latest.current(), [frame?.t]);

  const label = due?.label ?? ask.button;
  const waits = ask.at_once ? "Takes it when it is steady" : "Waits until steady";
  return (
    <>
      {!there ? (
        <MainButton key="go" onClick={goThere} busy={!frame}>
          {go?.label}
        </MainButton>
      ) : (
        <MainButton
          key={label}
          busy={writer.sending || !frame || (pressed && !steady)}
          onClick={() => (ready ? act() : setArmed(!armed))}
        >
          {armed || alone || (pressed && !steady) ? waits : label}
        </MainButton>
      )}
      {refused && (
        <p role="alert" className="text-[14px] text-outside">
          {refused.message} {refused.remedy}
        </p>
      )}
      <NotTaken ask={ask} writer={writer} onKeep={() => void keep()} />
      {ask.alone && (
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
      )}
      {ask.early.length > 0 && there && !steady && !early && (
        <Button look="quiet" className="text-[15px]" onClick={() => setEarly(true)}>
          Take it before it is steady
        </Button>
      )}
      {early && (
        <Reason
          label="Why take it now?"
          suggestions={ask.early}
          button="Take it now"
          problem={problemAt(writer, "data.early_reason")}
          busy={writer.sending}
          onReason={(reason) => void take(reason)}
          onCancel={() => setEarly(false)}
        />
      )}
    </>
  );

  async function keep() {
    if (!frame || !ask.sends) return;
    const said = entry(ask.sends, { sample_at: frame.t, kept: true });
    await writer.send([{ ...said, source: "simulated" }, ...ask.also.map((sent) => entry(sent))]);
  }
}

type NotTaken = Pick<AskProps, "ask" | "writer"> & { onKeep: () => void };

/** Why a value that was taken live does not count yet. */
function NotTaken({ ask, writer, onKeep }: NotTaken) {
  const { problem } = writer;
  const own = problem && ask.values.some((v) => `data.${v.id}` === problem.field);
  const early = problem?.field === "data.early_reason" && ask.way === "set";
  if (!problem || !(own || early)) return null;
  return (
    <div
      role="alert"
      ref={intoView}
      className="rounded-xl border-l-4 border-caution-edge bg-caution p-3"
    >
      <p>
        <strong>{problem.message}</strong> {problem.remedy}
      </p>
      {problem.code === "slip.suspected" && (
        <Button className="mt-2" onClick={onKeep}>
          Keep it
        </Button>
      )}
    </div>
  );
}
