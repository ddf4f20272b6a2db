import { useState } from "react";
import type { JobState } from "../../api/client";
import { Button } from "../../ui/Button";
import { Modal } from "../../ui/Modal";
import { useOpenJob } from "../../ui/useOpenJob";
import type { Writer } from "./useWriter";

/** What stands between this job and its signature; after it, the way to a following job. */
export function ToClose({ job, writer }: { job: JobState; writer: Writer }) {
  const [open, setOpen] = useState(false);
  const follow = useOpenJob();
  if (job.status === "voided") return null;
  if (job.status !== "open")
    return (
      <Button
        className="text-[15px]"
        onClick={() => follow.mutate({ tag: job.instrument.tag, follows: job.job })}
      >
        Follow with a new job
      </Button>
    );
  return (
    <>
      <Button className="text-[15px]" onClick={() => setOpen(true)}>
        Close the job
      </Button>
      <Modal
        open={open}
        onClose={() => setOpen(false)}
        title={job.to_close.length ? "It cannot be closed yet" : "Ready to be signed"}
      >
        <ul className="list-disc pl-5">
          {job.to_close.map((line) => (
            <li
              key={line}
              className={line.includes("still on") ? "font-semibold text-outside" : ""}
            >
              {line}
            </li>
          ))}
        </ul>
        {job.to_close.length === 0 && <p>Everything is off and done. Sign at the left.</p>}
        {job.may_void && (
          <p className="mt-3 text-[14.5px] text-muted">
            Nothing was read or changed: opened by mistake, it ends without a paper.
          </p>
        )}
        <p className="mt-4 flex justify-end gap-2">
          {job.may_void && (
            <Button
              disabled={writer.sending}
              onClick={() =>
                void writer
                  .send([{ kind: "voided", data: {} }])
                  .then((stored) => stored && setOpen(false))
              }
            >
              Opened by mistake
            </Button>
          )}
          <Button onClick={() => setOpen(false)}>Back to the job</Button>
        </p>
      </Modal>
    </>
  );
}
