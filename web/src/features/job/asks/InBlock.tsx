import type { JobState, RunState } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { clock, moment, useNow } from "../../../ui/time";
import type { Live } from "../useLive";
import type { Writer } from "../useWriter";

/** Puts the sensor into its block: from there on the run goes on by itself. */
export function PutIn({ job, run, writer }: { job: JobState; run: RunState; writer: Writer }) {
  return (
    <div className="rounded-xl bg-sunk p-3 text-[15px]">
      <p className="mb-2">
        In the block the run goes on by itself, together with other sensors that you put into this
        or another block. You can leave; nothing is lost if the page is closed.
      </p>
      <Button
        className="w-full font-semibold"
        disabled={writer.sending}
        onClick={() =>
          void writer.send([{ kind: "placed", data: { run: run.id, block: job.block } }])
        }
      >
        Put it into {job.block} and let it run
      </Button>
    </div>
  );
}

/** What the blocks do, whose point is next, and how long still. */
export function InBlock({ job, live }: { job: JobState; live: Live }) {
  const now = useNow();
  const group = live.frame?.group;
  if (!group)
    return (
      <p className="rounded-xl bg-live px-4 py-6 text-live-muted">
        {live.lost ? "No answer from the blocks. The run goes on." : "Asking the blocks …"}
      </p>
    );
  return (
    <section aria-label="Blocks" className="grid gap-2">
      {group.blocks.map((b) => (
        <div
          key={b.block}
          className={`rounded-xl px-4 py-2.5 ${b.block === job.in_block ? "bg-live text-live-ink" : "border border-line"}`}
        >
          <p className="flex items-baseline justify-between gap-2">
            <strong>{b.block}</strong>
            <span className="digits text-[26px] leading-none font-semibold">
              {b.temperature}
              <span className="text-[15px] font-normal"> °C</span>
            </span>
          </p>
          <p className="flex justify-between text-[14px]">
            <span>{b.doing}</span>
            {b.ready_at && (
              <span className="digits" role="timer">
                {clock(Date.parse(b.ready_at) - now)}
              </span>
            )}
          </p>
          <p className="text-[14px] opacity-80">
            {b.waiting.length ? `waits for it: ${b.waiting.join(", ")}` : "nothing waits"}
            {b.then && `; then ${b.then}`}
          </p>
        </div>
      ))}
      <p className="text-[15px]">
        {group.reading ? (
          <>
            Being read: <strong>{group.reading}</strong>
          </>
        ) : (
          <>
            Next to be read: <strong>{group.next || "nobody"}</strong>
          </>
        )}
        <span className="block text-[14px] text-muted">
          All points of all sensors by about {moment(group.ends_at).slice(11)}. The run goes on
          while you are elsewhere.
        </span>
      </p>
    </section>
  );
}
