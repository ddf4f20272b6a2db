import { Reason } from "./asks/Reason";
import { problemAt } from "./asks/types";
import type { Writer } from "./useWriter";

/** What an error may have affected is open until somebody says what was found. */
export function FollowUp({ may, writer }: { may: boolean; writer: Writer }) {
  if (!may)
    return (
      <p className="rounded-xl bg-caution p-3">
        What the error may have affected is not followed up yet: a planner or reviewer does it.
      </p>
    );
  return (
    <Reason
      autoFocus={false}
      label="What the error may have affected: what was found?"
      suggestions={["Looked through the trend: nothing", "Batches since then are held"]}
      button="Followed up"
      problem={problemAt(writer, "data.what")}
      busy={writer.sending}
      onReason={(what) => void writer.send([{ kind: "followed_up", data: { what } }])}
    />
  );
}
