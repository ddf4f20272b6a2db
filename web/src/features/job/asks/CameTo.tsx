import type { JobState } from "../../../api/client";

/** What the job came to, with why: as it will stand on the certificate. */
export function CameTo({ job }: { job: JobState }) {
  const { id, words, why, good } = job.outcome;
  if (!id) return null;
  return (
    <p className={`rounded-xl border-2 p-3 ${good ? "border-within" : "border-outside"}`}>
      <strong className="block first-letter:uppercase">{words}</strong>
      {why}
    </p>
  );
}
