import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { ApiError, client, unwrap, type Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { oneQuery, type Instrument } from "./api";

/** What jobs found otherwise than on record; a planner takes it over or leaves the record. */
export function Proposals({ i, may }: { i: Instrument; may: boolean }) {
  if (i.proposals.length === 0) return null;
  return (
    <section
      aria-label="Found otherwise than on record"
      className="mb-4 grid gap-3 rounded-2xl border-2 border-caution-edge bg-card p-4"
    >
      <h2 className="font-semibold">Found otherwise than on record</h2>
      {i.proposals.map((p) => (
        <One key={p.id} tag={i.tag} p={p} may={may} />
      ))}
    </section>
  );
}

type OneProps = { tag: string; p: Schemas["ProposalOut"]; may: boolean };

function One({ tag, p, may }: OneProps) {
  const queries = useQueryClient();
  const [reason, setReason] = useState("");
  const decide = useMutation({
    mutationFn: (take: boolean) =>
      unwrap(
        client.POST("/api/v1/instruments/{tag}/proposals/{proposal}", {
          params: { path: { tag, proposal: p.id } },
          body: { take, reason },
        }),
      ),
    onSuccess: (fresh) => {
      queries.setQueryData(oneQuery(tag).queryKey, fresh);
      void queries.invalidateQueries({ queryKey: ["today"] });
    },
  });
  const problem = decide.error instanceof ApiError ? decide.error.problem : null;
  return (
    <div>
      <p>
        {p.label}: on record <strong className="digits">{p.before || "nothing"}</strong>, found{" "}
        <strong className="digits">{p.after}</strong> by {p.by} in{" "}
        <Link className="underline" to={`/jobs/${p.job}`}>
          {p.job}
        </Link>
        . {p.reason}
      </p>
      {may ? (
        <form
          className="mt-2 flex flex-wrap items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            decide.mutate(true);
          }}
        >
          <Field
            className="min-w-52 flex-1"
            label="By what is it decided?"
            value={reason}
            problem={problem}
            onChange={(e) => setReason(e.target.value)}
          />
          <Button type="submit" disabled={decide.isPending}>
            Put the record right
          </Button>
          <Button disabled={decide.isPending} onClick={() => decide.mutate(false)}>
            Leave the record
          </Button>
        </form>
      ) : (
        <p className="text-[14px] text-muted">A planner decides.</p>
      )}
    </div>
  );
}
