import type { JobState, RunState } from "../../api/client";
import { Mark } from "../../ui/Mark";
import { Figure } from "./Explain";

const WORD_COLOUR: Record<string, string> = {
  outside: "text-outside",
  near: "text-edge",
  within: "text-within",
};

type Props = { job: JobState; run: RunState; brief?: boolean };

/** The judgement as sentences: verdict, cause, hop, remedy, and how sure it is. */
export function JudgementBox({ job, run, brief = false }: Props) {
  const j = job.judgement;
  // What is judged now may be another run: its figures are not those of one that is not read yet.
  if (run.taken === 0)
    return <p className="text-muted">{j.run === run.id ? j.text : "Nothing read yet."}</p>;
  if (j.run !== run.id)
    return (
      <p className="text-[14.5px]">
        <Mark mark={run.mark} words className="align-[-2px]" />
        {run.worst && `, largest error ${run.worst}.`} {run.causes.join(", ")}
      </p>
    );
  if (brief) return <Verdict job={job} />;
  return (
    <div className="text-[14.5px] leading-snug">
      <p>
        <strong className={WORD_COLOUR[j.mark] ?? ""}>
          <Mark mark={j.mark} className="align-[-2px]" /> {j.headline}
        </strong>{" "}
        {j.text}
      </p>
      {j.causes.map((c) => (
        <p key={c.cause} className="mt-1">
          <strong>
            {c.label}
            {c.size && " "}
            {c.size && <span className="digits">{c.size}</span>}.
          </strong>{" "}
          {c.evidence}
        </p>
      ))}
      {(j.hop || j.advice) && (
        <p className="mt-1">
          {j.hop && (
            <>
              It enters at the <strong>{j.hop}</strong>.{" "}
            </>
          )}
          {j.advice}
        </p>
      )}
      {j.mark !== "none" && <HowSure job={job} run={run} />}
    </div>
  );
}

/** What is decided about: verdict, causes with their evidence, and what to do. */
function Verdict({ job }: { job: JobState }) {
  const j = job.judgement;
  return (
    <div className="grid gap-2 text-[14.5px] leading-snug">
      <div
        className={`rounded-xl px-3 py-2 ${j.mark === "outside" ? "bg-outside-soft" : "bg-sunk"}`}
      >
        <p className={`text-[17px] font-semibold ${WORD_COLOUR[j.mark] ?? ""}`}>
          <Mark mark={j.mark} className="align-[-2px]" /> {j.headline}
        </p>
        <p>{j.text}</p>
        {j.uncertainty && (
          <p className="text-[13.5px] text-muted">
            U {j.uncertainty} · limit to U {j.ratio} · {j.rule}
          </p>
        )}
      </div>
      {j.causes.map((c, n) => (
        <p
          key={c.cause}
          className={`border-l-4 pl-2.5 ${n === 0 ? "border-accent" : "border-line"}`}
        >
          <strong>
            {c.label}
            {c.size && " "}
            {c.size && <span className="digits">{c.size}</span>}.
          </strong>{" "}
          {c.evidence}
        </p>
      ))}
      {(j.hop || j.advice) && (
        <p className="rounded-xl bg-accent-soft px-3 py-2">
          {j.hop && (
            <>
              It enters at the <strong>{j.hop}</strong>.{" "}
            </>
          )}
          {j.advice}
        </p>
      )}
    </div>
  );
}

/** By which rule, how sure, and what the run is characterised by. */
export function HowSure({ job, run }: Props) {
  const j = job.judgement;
  return (
    <>
      <p className="mt-1 text-[13.5px] text-muted">
        {!j.uncertainty && `${j.rule}; no U is known there.`}
        {j.uncertainty && (
          <>
            {j.rule}, U {j.uncertainty}, limit to U {j.ratio};{" "}
            <Figure name={j.critical_figure} className="underline">
              probability of being outside {j.probability_outside}
            </Figure>
          </>
        )}
      </p>
      {run.characteristics.length > 0 && (
        <p className="mt-1 flex flex-wrap gap-x-3 text-[13.5px] text-muted">
          {run.characteristics.map((c) => (
            <Figure key={c.id} name={c.figure}>
              {c.label} <span className="digits text-ink">{c.value} %</span>
            </Figure>
          ))}
        </p>
      )}
    </>
  );
}
