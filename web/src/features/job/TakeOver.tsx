import type { JobState } from "../../api/client";
import type { Me } from "../../api/session";
import { Button } from "../../ui/Button";
import type { Writer } from "./useWriter";

/** At a change of shift: what is on is another person's until it is taken over by name. */
export function TakeOver({ job, user, writer }: { job: JobState; user: Me; writer: Writer }) {
  const steps = new Set(job.steps.map((s) => s.id));
  // What does not end in this job was handed over already, to somebody by name.
  const theirs = job.on.filter(
    (o) => o.by !== user.name && steps.has(o.step) && o.ends_with && o.kind !== "lock",
  );
  if (job.status !== "open" || !theirs.length || !user.can.includes("job.record")) return null;
  return (
    <div className="grid gap-2 rounded-xl bg-sunk p-3 text-[15px]">
      <p>
        <strong>{theirs.map((o) => o.label).join(", ")}</strong>: with{" "}
        {[...new Set(theirs.map((o) => o.by))].join(" and ")}.
      </p>
      <Button
        disabled={writer.sending}
        onClick={() =>
          void writer.send([{ kind: "taken_over", data: { on: theirs.map((o) => o.step) } }])
        }
      >
        I take it over
      </Button>
    </div>
  );
}
