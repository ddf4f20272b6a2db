import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Button } from "../../../ui/Button";
import { Mark } from "../../../ui/Mark";
import { ProofField } from "../../../ui/ProofField";
import { jobQueries } from "../api";
import { CameTo } from "./CameTo";
import { everyEntry, problemAt, type AskProps } from "./types";

/** The signature: the result once more, and the password. */
export function SignAsk({ job, ask, writer }: AskProps) {
  const [password, setPassword] = useState("");
  const states = useQuery(jobQueries.signature(job.job, job.seq));
  const left = job.as_left?.taken ? job.as_left : job.as_found;
  const sign = (proof: string) =>
    void writer.send(everyEntry(ask), proof).then(() => setPassword(""));
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        sign(password);
      }}
    >
      <dl className="grid grid-cols-[84px_1fr] gap-y-1 rounded-xl bg-sunk p-3">
        <dt className="text-muted">As found</dt>
        <dd>
          <span className="digits">{job.as_found.worst}</span>{" "}
          <Mark mark={job.as_found.mark} words />
        </dd>
        <dt className="text-muted">As left</dt>
        <dd>
          <span className="digits">{left.worst}</span> <Mark mark={left.mark} words />
        </dd>
      </dl>
      <CameTo job={job} />
      <p className="text-[15px]">{states.data && `“${states.data.statement}”`}</p>
      <ProofField
        autoFocus
        value={password}
        problem={problemAt(writer, "password")}
        onChange={setPassword}
        onProven={sign}
      />
      <Button
        look="main"
        type="submit"
        data-main="true"
        className="sticky bottom-0 z-[1]"
        disabled={writer.sending}
      >
        {writer.sending ? "Signing …" : ask.button}
      </Button>
    </form>
  );
}
