import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import type { JobState, Schemas } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { useNextOfRound, useRound } from "../../../ui/round";
import { jobQueries } from "../api";
import { FromPaper } from "./FromPaper";
import { InBlock, PutIn } from "./InBlock";
import { LivePanel } from "./LivePanel";
import { LiveTable } from "./LiveTable";
import { ReadLive } from "./ReadLive";
import { outOf } from "./together";
import { Turns } from "./Turns";
import { TypedValues } from "./TypedValues";
import { entry, type AskProps } from "./types";

/** Values of a reading or a setting: live from a rig, or typed; both may mix within a run. */
export function ReadAsk(props: AskProps) {
  const { job, ask, run, writer, live } = props;
  const live_ = ask.by.includes("rig");
  const [typing, setTyping] = useState(!live_);
  const [paper, setPaper] = useState(false);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const busy = event.target instanceof HTMLElement && event.target.matches("input, textarea");
      if (event.key === "e" && !busy && live_) setTyping((t) => !t);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [live_]);
  const left = ask.alone ? run.points.filter((p) => !p.event).length : 0;
  // Nothing behind the form takes the focus while its lines are stored.
  if (paper && left > 0)
    return <FromPaper job={job} run={run} writer={writer} onClose={() => setPaper(false)} />;
  if (ask.alone && job.in_block) return <InBlock job={job} live={live} />;
  const again = ask.alone ? run.points[Number(ask.sends?.data.point)] : undefined;
  const together = live.frame?.shown ?? [];
  return (
    <>
      {again?.equivalent && <p className="text-[15px] text-muted">{again.equivalent}</p>}
      {live_ && !typing && <Shown {...props} together={together} />}
      {live_ && !typing ? (
        <ReadLive {...props} key={ask.alone ? run.id : `${ask.id}:${job.seq}`} />
      ) : (
        <Typed {...props} />
      )}
      {typing && left > 1 && run.columns.every((c) => !c.tap && !c.row) && (
        <Button onClick={() => setPaper(true)}>A whole run from the paper form</Button>
      )}
      {ask.alone && job.by_turns && <Turns job={job.job} block={job.by_turns} />}
      {ask.alone && job.block && <PutIn job={job} run={run} writer={writer} />}
      {live_ && (
        <Button onClick={() => setTyping(!typing)}>
          {typing ? "Back to the live value" : "Type it in"} <kbd className="text-muted">e</kbd>
        </Button>
      )}
    </>
  );
}

type Shown = AskProps & { together: Schemas["OnDisplay"][] };

/** What the rig shows: one value, several at once, or a setting as it is in the device. */
function Shown({ ask, run, live, together }: Shown) {
  const { frame, lost } = live;
  const [setting] = ask.values;
  if (!ask.steadily && setting)
    return (
      <p className="rounded-xl bg-live px-4 py-3 text-live-ink">
        <span className="text-[14px] text-live-muted">{setting.label}, in the device now</span>
        <span className="digits block text-[30px] leading-tight font-semibold">
          {frame?.settings[ask.id] ?? "…"}{" "}
          <span className="text-lg font-normal">{setting.unit}</span>
        </span>
      </p>
    );
  return together.length > 0 ? (
    <LiveTable shown={together} lost={lost} />
  ) : (
    <LivePanel frame={frame} lost={lost} run={run} />
  );
}

/** What the device says of itself while one waits. */
export function Beside({ beside }: { beside: Schemas["Beside"] }) {
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

/** The same values typed in; in a round, what is left of the job is stated with the last look. */
function Typed({ job, ask, run, writer, live, onTaken }: AskProps) {
  const queries = useQueryClient();
  const round = useRound(job.job);
  const next = useNextOfRound();
  const last = round && ask.in_round !== "";
  const goOn = async () => {
    onTaken();
    const now = queries.getQueryData<JobState>(jobQueries.state(job.job).queryKey);
    const todo = now?.tasks[0];
    if (!last || !now || !todo?.leaves || todo.asks[0]?.way === "prove") return;
    const off = await writer.send(outOf(now));
    if (off && round.next) next.mutate(round.id);
  };
  const { sends } = ask;
  if (!sends) return null;
  return (
    <TypedValues
      job={job}
      writer={writer}
      columns={ask.values}
      place={ask.id}
      button={
        last
          ? `${ask.in_round}${round.next ? `, next: ${round.next}` : ""}`
          : ask.typed || ask.button
      }
      also={ask.also.map((sent) => entry(sent))}
      now={job.instrument.rig && !ask.alone ? live.frame?.shown : undefined}
      file={ask.file}
      onStored={() => void goOn()}
      beside={
        ask.alone
          ? (values, beside) => entry(sends, { point: run.points.length, ...values, beside })
          : undefined
      }
      event={(values) => entry(sends, values)}
    />
  );
}
