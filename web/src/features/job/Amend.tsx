import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, client, unwrap } from "../../api/client";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Modal } from "../../ui/Modal";
import { jobQueries } from "./api";

/** A new issue of the certificate, with an error in its words put right. */
export function Amend({ job, seq }: { job: string; seq: number }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button className="text-[15px]" onClick={() => setOpen(true)}>
        Put an error of the certificate right
      </Button>
      <Modal open={open} onClose={() => setOpen(false)} title="A new issue of the certificate">
        <Words job={job} seq={seq} onDone={() => setOpen(false)} />
      </Modal>
    </>
  );
}

/** Earlier issues of a certificate; each stays as it was given out. */
export function Issues({ job, seq }: { job: string; seq: number }) {
  const paper = useQuery(jobQueries.paper(job, seq));
  const issues = paper.data?.issues ?? [];
  if (issues.length < 2) return null;
  return (
    <ul className="grid gap-1 text-[15px]">
      {issues.map((i) => (
        <li key={i.issue}>
          <a
            className="inline-block py-2 underline"
            href={`api/v1/records/${job}/certificate.pdf?issue=${i.issue}`}
            target="_blank"
            rel="noreferrer"
          >
            Issue {i.issue}
          </a>{" "}
          {i.what ? `by ${i.by}: ${i.what}` : "the first"}
        </li>
      ))}
    </ul>
  );
}

type WordsProps = { job: string; seq: number; onDone: () => void };

function Words({ job, seq, onDone }: WordsProps) {
  const queries = useQueryClient();
  const paper = useQuery(jobQueries.paper(job, seq));
  const [changes, setChanges] = useState<Record<string, string>>({});
  const [reason, setReason] = useState("");
  const [password, setPassword] = useState("");
  const amend = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST("/api/v1/records/{number}/issues", {
          params: { path: { number: job } },
          body: { changes, reason, password },
        }),
      ),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: jobQueries.state(job).queryKey });
      onDone();
    },
  });
  const problem = amend.error instanceof ApiError ? amend.error.problem : null;
  const at = (field: string) => (problem?.field === field ? problem : null);
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        amend.mutate();
      }}
    >
      <p className="text-muted">
        Words are put right; a wrong figure takes a new job. The issues before it stay.
      </p>
      <div className="grid max-h-[40vh] gap-2 overflow-auto sm:grid-cols-2">
        {paper.data?.words.map((w) => (
          <Field
            key={w.id}
            label={w.label}
            value={changes[w.id] ?? w.value}
            problem={at(`changes.${w.id}`)}
            onChange={(e) => setChanges({ ...changes, [w.id]: e.target.value })}
          />
        ))}
      </div>
      <Field
        label="What was wrong, and why"
        value={reason}
        problem={at("reason") ?? at("changes") ?? at("job")}
        onChange={(e) => setReason(e.target.value)}
      />
      <Field
        label="Your password"
        type="password"
        autoComplete="current-password"
        value={password}
        problem={at("password")}
        onChange={(e) => setPassword(e.target.value)}
      />
      <div className="flex justify-end gap-2">
        <Button onClick={onDone}>Cancel</Button>
        <Button look="main" type="submit" disabled={amend.isPending}>
          Issue it again
        </Button>
      </div>
    </form>
  );
}
