import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { JobState } from "../../api/client";
import { jobQueries } from "./api";
import { ErrorPicture } from "./ErrorPicture";
import { Blocks } from "./Blocks";
import { BesidePicture } from "./BesidePicture";
import { HowSure, JudgementBox } from "./JudgementBox";
import { LoopStrip } from "./LoopStrip";
import { PointTable } from "./PointTable";
import { inTurn } from "./errorAxes";
import { readNow, runsOf } from "./runs";
import type { Live } from "./useLive";

type Props = {
  job: JobState;
  live: Live;
  chosen: number;
  onChoose: (index: number) => void;
};

/** Loop strip, error picture, points and judgement of the run that matters now. */
export function ResultView({ job, live, chosen, onChoose }: Props) {
  const asks = job.tasks.flatMap((todo) => todo.asks);
  const read = readNow(job, job.tasks[0])?.id;
  const started = runsOf(job).filter((r) => r.taken > 0 || r.id === read);
  const [shown, setShown] = useState("");
  const run =
    started.find((r) => r.id === shown) ??
    started.find((r) => r.id === read) ??
    started.find((r) => r.id === job.judgement.run) ??
    job.as_found;
  // What is decided stands in the task, with its cause and remedy; here is how sure it is.
  const deciding = asks.some((ask) => ask.options.length > 0) && run.id === job.judgement.run;
  const capturing = asks.some(
    (ask) => ask.also.length > 0 || ask.way === "read" || (ask.way === "set" && ask.steadily),
  );
  const beside = capturing ? live.frame?.beside : null;
  const point = chosen >= 0 ? run.points[chosen] : undefined;
  const useLive = capturing && live.frame !== null && !point;
  const strip = useQuery({
    ...jobQueries.strip(job.job, job.seq, run.id, chosen),
    enabled: Boolean(point?.event),
  });
  const stations = useLive && live.frame ? live.frame.stations : (strip.data ?? run.stations);
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-2 max-lg:overflow-auto lg:gap-3">
      <LoopStrip stations={stations} live={useLive} />
      <div className="grid flex-1 grid-cols-1 gap-2 lg:min-h-0 lg:grid-rows-2 lg:gap-3 xl:grid-cols-[minmax(0,1fr)_400px] xl:grid-rows-1">
        <section
          aria-label="Error picture"
          className="flex min-h-[230px] min-w-0 flex-col rounded-[14px] border border-line bg-card px-3.5 py-2.5"
        >
          {beside && beside.curve.length > 1 ? (
            <>
              <h2 className="text-[15px] font-semibold">
                {beside.title}{" "}
                <span className="text-[13.5px] font-normal text-muted">{run.input_unit}</span>
              </h2>
              <BesidePicture beside={beside} unit={run.input_unit} label={run.title} />
            </>
          ) : (
            <>
              <h2 className="text-[15px] font-semibold">
                {inTurn(run) ? "Error, one after the other" : "Error across the range"}{" "}
                <span className="text-[13.5px] font-normal text-muted">
                  {run.axis.unit}
                  {run.points.some((p) => p.direction === "down") && ", ▲ up ▼ down"}
                </span>
              </h2>
              <ErrorPicture
                run={run}
                {...(run.role === "left" ? { before: job.as_found } : {})}
                current={read === run.id}
              />
            </>
          )}
        </section>
        <section
          aria-label="Points and judgement"
          className="relative flex min-h-0 flex-col gap-2 rounded-[14px] lg:overflow-auto border border-line bg-card px-3 py-2.5"
        >
          {started.length > 4 ? (
            <select
              aria-label="Run that is shown"
              value={run.id}
              onChange={(e) => setShown(e.target.value)}
              className="min-h-11 rounded-lg border border-line bg-card px-2 text-[15px] font-semibold"
            >
              {started.map((r) => (
                <option key={r.id} value={r.id}>
                  {r.title}
                </option>
              ))}
            </select>
          ) : (
            <div className={started.length > 1 ? "flex flex-wrap items-center gap-1" : "hidden"}>
              {started.map((r) => (
                <button
                  key={r.id}
                  type="button"
                  aria-pressed={run.id === r.id}
                  onClick={() => setShown(r.id)}
                  className="min-h-11 rounded-lg px-2.5 text-[15px] font-semibold text-muted aria-pressed:bg-sunk aria-pressed:text-ink"
                >
                  {r.title}
                </button>
              ))}
            </div>
          )}
          <PointTable job={job} run={run} chosen={chosen} onChoose={onChoose} />
          <div className="border-t border-line pt-2">
            {deciding ? <HowSure job={job} run={run} /> : <JudgementBox job={job} run={run} />}
          </div>
          <Blocks blocks={job.blocks} />
        </section>
      </div>
    </div>
  );
}
