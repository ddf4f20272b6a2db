import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { Field } from "../../../ui/Field";
import type { Writer } from "../useWriter";
import { useDraft } from "../useDraft";
import { problemAt } from "./types";

type Props = { asked: Schemas["Asked"]; job: string; writer: Writer };

/** What a job asks once something went wrong: what is true, and who knows. */
export function AskedStep({ asked, job, writer }: Props) {
  const draft = useDraft(`${job}:${asked.kind}`);
  const [state, setState] = useState("");
  const choosing = asked.choices.length > 0;
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        const words = Object.fromEntries(asked.fields.map((f) => [f.id, draft.values[f.id] ?? ""]));
        const data = choosing ? { ...words, state } : words;
        void writer.send([{ kind: asked.kind, data }]).then((stored) => stored && draft.clear());
      }}
    >
      {choosing && (
        <fieldset className="grid grid-cols-2 gap-2">
          <legend className="mb-1 text-[14px] text-muted">What is true now</legend>
          {asked.choices.map((c) => (
            <label
              key={c.id}
              className="flex min-h-11 items-center gap-2 rounded-[10px] border border-line px-3 has-checked:border-accent has-checked:bg-accent-soft"
            >
              <input
                type="radio"
                name="state"
                required
                checked={state === c.id}
                onChange={() => setState(c.id)}
              />
              {c.label}
            </label>
          ))}
        </fieldset>
      )}
      {asked.fields.map((f, n) => (
        <div key={f.id}>
          <Field
            label={f.required ? f.label : `${f.label} (if any)`}
            placeholder={f.hint}
            autoFocus={n === 0 && !choosing}
            value={draft.values[f.id] ?? ""}
            problem={problemAt(writer, `data.${f.id}`)}
            onChange={(e) => draft.set(f.id, e.target.value)}
          />
          <div className="mt-1 flex flex-wrap gap-1.5">
            {f.often.map((text) => (
              <button
                key={text}
                type="button"
                onClick={() => draft.set(f.id, text)}
                className="min-h-11 rounded-lg border border-line bg-card px-3 text-[14px]"
              >
                {text}
              </button>
            ))}
          </div>
        </div>
      ))}
      <div className="sticky bottom-0 -mx-4 lg:-bottom-4 bg-card px-4 py-2">
        <Button look="main" type="submit" className="w-full" disabled={writer.sending} data-main>
          Record it
        </Button>
      </div>
    </form>
  );
}
