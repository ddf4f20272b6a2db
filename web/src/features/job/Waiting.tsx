import { Button } from "../../ui/Button";
import type { Writer } from "./useWriter";

/** Entries that are not stored yet, and whose they are; nothing of them is lost unseen. */
export function Waiting({ writer }: { writer: Writer }) {
  const { waiting, refused, others } = writer;
  return (
    <>
      {others.length > 0 && (
        <p className="rounded-xl bg-sunk p-3">
          Entries of <strong>{others.join(" and ")}</strong> wait on this device. They are sent when{" "}
          {others.length > 1 ? "they sign" : "that person signs"} in again.
        </p>
      )}
      {refused?.problem && (
        <div role="alert" className="grid gap-2 rounded-xl border-2 border-outside p-3">
          <p>
            <strong>An entry that was kept was not taken.</strong> {refused.problem.message}{" "}
            {refused.problem.remedy}
          </p>
          <p className="digits text-[14px] break-words text-muted">
            {refused.entries
              .map((e) => `${e.kind.replace("_", " ")}: ${Object.values(e.data).join(", ")}`)
              .join("; ")}
          </p>
          <p className="flex gap-2">
            <Button className="flex-1" onClick={writer.again}>
              Send it again
            </Button>
            <Button className="flex-1" onClick={writer.discard}>
              Delete this entry
            </Button>
          </p>
        </div>
      )}
      {waiting > 0 && !refused && (
        <p role="status" className="rounded-xl border-2 border-caution-edge bg-caution p-3">
          <strong>Not stored yet.</strong> {writer.why || "The server does not answer."} Your{" "}
          {waiting > 1 ? `${waiting} entries are` : "entry is"} kept on this device and sent again
          by itself.
          {waiting > 1 && (
            <Button className="mt-2 w-full" onClick={writer.discardLast}>
              Leave the last one out
            </Button>
          )}
        </p>
      )}
    </>
  );
}
