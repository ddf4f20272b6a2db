import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { JobState } from "../../api/client";
import { Button } from "../../ui/Button";
import { Modal } from "../../ui/Modal";
import { jobQueries } from "./api";
import { Reason } from "./asks/Reason";
import type { Writer } from "./useWriter";

type UndoProps = { job: JobState; event: string; writer: Writer; onClose: () => void };

/** Takes an entry back; it stays in the history with the reason. */
export function UndoDialog({ job, event, writer, onClose }: UndoProps) {
  const history = useQuery({ ...jobQueries.history(job.job, job.seq), enabled: event !== "" });
  const line = history.data?.find((l) => l.id === event);
  return (
    <Modal open={event !== ""} onClose={onClose} title="Take this entry back?">
      <p className="mb-3 min-h-7 text-lg">{line?.text}</p>
      <p className="mb-3 text-muted">It stays in the history, with the reason.</p>
      <Reason
        label="Reason"
        suggestions={["Typed wrong", "Not steady after all", "Wrong point", "Tapped by mistake"]}
        button="Take it back"
        problem={writer.problem?.field.startsWith("data.") ? writer.problem : null}
        busy={writer.sending}
        onCancel={onClose}
        onReason={(reason) =>
          void writer
            .send([{ kind: "retracted", data: { event, reason } }])
            .then((stored) => stored && onClose())
        }
      />
    </Modal>
  );
}

type NoteProps = { open: boolean; writer: Writer; onClose: () => void };

/** A remark that appears on the certificate. */
export function NoteDialog({ open, writer, onClose }: NoteProps) {
  const [text, setText] = useState("");
  const problem = writer.problem?.field === "data.text" || writer.problem?.field === "data";
  return (
    <Modal open={open} onClose={onClose} title="Add a note">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void writer.send([{ kind: "noted", data: { text } }]).then((stored) => {
            if (!stored) return;
            setText("");
            onClose();
          });
        }}
      >
        <label className="block">
          <span className="text-muted">It is printed on the certificate.</span>
          <textarea
            autoFocus
            rows={4}
            className="mt-1 w-full rounded-[10px] border border-line bg-card p-3"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
        </label>
        {problem && (
          <p role="alert" className="text-outside">
            {writer.problem?.message} {writer.problem?.remedy}
          </p>
        )}
        <div className="mt-4 flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" className="font-semibold" disabled={writer.sending}>
            Save the note
          </Button>
        </div>
      </form>
    </Modal>
  );
}
