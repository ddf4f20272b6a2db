import { useState } from "react";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { ProofField } from "../../ui/ProofField";
import type { Writer } from "./useWriter";

/** A second person accepts a signed record, or asks for the work to be done again. */
export function ReviewBox({ writer }: { writer: Writer }) {
  const [comment, setComment] = useState("");
  const [password, setPassword] = useState("");
  const review = (outcome: "accepted" | "redo", proof = password) =>
    void writer.send([{ kind: "reviewed", data: { outcome, comment } }], proof);
  return (
    <form
      className="grid gap-2 rounded-xl bg-sunk p-3"
      onSubmit={(event) => {
        event.preventDefault();
        review("accepted");
      }}
    >
      <h3 className="font-semibold">Review</h3>
      <Field
        label="Comment (if any)"
        value={comment}
        onChange={(e) => setComment(e.target.value)}
      />
      <ProofField
        value={password}
        problem={writer.problem?.field === "password" ? writer.problem : null}
        onChange={setPassword}
        onProven={(proof) => review("accepted", proof)}
      />
      <div className="flex gap-2">
        <Button type="submit" className="flex-1 font-semibold">
          Accept
        </Button>
        <Button className="flex-1" onClick={() => review("redo")}>
          To be done again
        </Button>
      </div>
    </form>
  );
}
