import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { client, unwrap, ApiError, NO_ANSWER, type Problem } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { Field } from "../../../ui/Field";
import { useOpenJob } from "../../../ui/useOpenJob";
import type { InRound } from "../../../ui/round";
import { newId } from "../useWriter";
import { MainButton } from "./MainButton";
import { Lines, outOf } from "./together";
import type { StepProps } from "./types";

type Props = StepProps & { round: InRound };

/** In a round: bypass off and on to the next; at the end one signature for all. */
export function RoundStep({ job, step, writer, round }: Props) {
  const open = useOpenJob();
  const go = () => open.mutate({ tag: round.next, like: job.job });
  const stated = job.together;
  if (step.kind !== "sign")
    return (
      <>
        {stated && <Lines together={stated} />}
        <MainButton
          busy={writer.sending || open.isPending}
          onClick={() =>
            void writer.send(outOf(job)).then((stored) => {
              if (stored && round.next) go();
            })
          }
        >
          {round.next ? `Bypass off, next: ${round.next}` : "Bypass off"}
        </MainButton>
      </>
    );
  if (round.next)
    return (
      <MainButton busy={open.isPending} onClick={go}>
        Next: {round.next}
      </MainButton>
    );
  return <SignAll round={round} />;
}

function SignAll({ round }: { round: InRound }) {
  const queries = useQueryClient();
  const [password, setPassword] = useState("");
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<Problem | null>(null);
  const sign = async () => {
    setBusy(true);
    setProblem(null);
    try {
      for (const number of round.jobs) {
        const path = { params: { path: { number } } };
        const state = await unwrap(client.GET("/api/jobs/{number}", path));
        if (state.status !== "open" || state.current_step !== "sign") continue;
        const event = { id: newId(), kind: "signed", data: {}, source: "typed" };
        await unwrap(
          client.POST("/api/jobs/{number}/events", {
            ...path,
            body: { expected_seq: state.seq, events: [event] as never, password },
          }),
        );
      }
      round.end();
    } catch (error) {
      setProblem(error instanceof ApiError ? error.problem : NO_ANSWER);
    }
    await queries.invalidateQueries();
    setBusy(false);
  };
  return (
    <form
      className="grid gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        void sign();
      }}
    >
      <p>
        This signs the {round.jobs.length} checks of the round that are ready: I did this work and
        recorded it as it was.
      </p>
      <Field
        label="Your password"
        type="password"
        autoFocus
        autoComplete="current-password"
        value={password}
        problem={problem}
        onChange={(e) => setPassword(e.target.value)}
      />
      <Button look="main" type="submit" data-main="true" disabled={busy || !password}>
        Sign the round
      </Button>
    </form>
  );
}
