import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, client, unwrap } from "../../api/client";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { moment } from "../../ui/time";
import { oneQuery, type Instrument } from "./api";

/** Whether the last result still holds, and what anybody may note that ends it. */
export function Standing({ i }: { i: Instrument }) {
  const [what, setWhat] = useState("");
  if (!i.standing) return null;
  const said = i.happenings.find((h) => h.id === what);
  return (
    <section
      aria-label="Does it hold?"
      className={`mb-4 grid gap-3 rounded-2xl border-2 bg-card p-4 ${i.standing.good ? "border-within" : "border-caution-edge"}`}
    >
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <p className="min-w-0 flex-1">
          <strong>{i.standing.good ? "Good now." : "Not good now."}</strong> {i.standing.text}
        </p>
        {!said &&
          i.happenings.map((h) => (
            <Button key={h.id} onClick={() => setWhat(h.id)}>
              {h.label}
            </Button>
          ))}
      </div>
      {said && <Note i={i} what={said.id} label={said.label} onDone={() => setWhat("")} />}
      {i.happened.length > 0 && (
        <ul className="text-[14.5px] text-muted">
          {i.happened.slice(0, 3).map((h) => (
            <li key={h.at + h.by}>
              <span className="digits">{moment(h.at)}</span> {h.said}, noted by {h.by}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

type NoteProps = { i: Instrument; what: string; label: string; onDone: () => void };

function Note({ i, what, label, onDone }: NoteProps) {
  const queries = useQueryClient();
  const [at, setAt] = useState("");
  const note = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST("/api/v1/instruments/{tag}/happened", {
          params: { path: { tag: i.tag } },
          body: { what, at },
        }),
      ),
    onSuccess: (fresh) => {
      queries.setQueryData(oneQuery(i.tag).queryKey, fresh);
      void queries.invalidateQueries({ queryKey: ["today"] });
      onDone();
    },
  });
  const problem = note.error instanceof ApiError ? note.error.problem : null;
  return (
    <form
      className="flex flex-wrap items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        note.mutate();
      }}
    >
      <Field
        className="min-w-0 flex-1"
        label={`${label}: when? Empty is now; it cannot be taken back.`}
        type="datetime-local"
        value={at}
        problem={problem}
        onChange={(e) => setAt(e.target.value)}
      />
      <Button type="submit" look="main" disabled={note.isPending}>
        Note it
      </Button>
      <Button onClick={onDone}>Do not</Button>
    </form>
  );
}
