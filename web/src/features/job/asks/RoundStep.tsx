import { useState } from "react";
import { ApiError, NO_ANSWER } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { ProofField } from "../../../ui/ProofField";
import { useNextOfRound, useSignRound, type InRound } from "../../../ui/round";
import { MainButton } from "./MainButton";
import { Listed } from "./StateAsk";
import { outOf } from "./together";
import type { AskProps } from "./types";

type Round = NonNullable<InRound>;
type Props = Pick<AskProps, "job" | "todo" | "writer"> & { round: Round };

/** In a round: bypass off and on to the next; at the end one signature for all. */
export function RoundStep({ job, todo, writer, round }: Props) {
  const next = useNextOfRound();
  if (todo.asks[0]?.way !== "prove")
    return (
      <>
        <Listed lines={todo.together?.lines ?? []} />
        <MainButton
          busy={writer.sending || next.isPending}
          onClick={() =>
            void writer.send(outOf(job)).then((stored) => {
              if (stored && round.next) next.mutate(round.id);
            })
          }
        >
          {round.next ? `Bypass off, next: ${round.next}` : "Bypass off"}
        </MainButton>
      </>
    );
  if (round.next)
    return (
      <MainButton busy={next.isPending} onClick={() => next.mutate(round.id)}>
        Next: {round.next}
      </MainButton>
    );
  return <SignAll round={round} />;
}

function SignAll({ round }: { round: Round }) {
  const [password, setPassword] = useState("");
  const sign = useSignRound();
  const problem = sign.error && (sign.error instanceof ApiError ? sign.error.problem : NO_ANSWER);
  return (
    <form
      className="grid gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        sign.mutate({ id: round.id, password });
      }}
    >
      <p>
        This signs the checks of the round that are ready and that you recorded in: I did this work
        and recorded it as it was.
      </p>
      <ProofField
        autoFocus
        value={password}
        problem={problem}
        onChange={setPassword}
        onProven={(proof) => sign.mutate({ id: round.id, password: proof })}
      />
      {sign.data?.left.map((line) => (
        <p key={line} role="status" className="text-[14.5px]">
          Not signed: {line}
        </p>
      ))}
      <Button look="main" type="submit" data-main="true" disabled={sign.isPending || !password}>
        Sign the round
      </Button>
    </form>
  );
}
