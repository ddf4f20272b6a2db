import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { Field } from "../../../ui/Field";
import type { Writer } from "../useWriter";
import { useDraft } from "../../../ui/draft";
import { problemAt } from "./types";

export type Asked = Schemas["Asked"];
type Props = {
  asked: Asked;
  job: string;
  writer: Writer;
  /** What is sent besides the answers, where a person chose it on the screen. */
  about?: Record<string, string>;
  onDone?: () => void;
  onCancel?: () => void;
};

/** A form that a job asks for once something is not as it should be: what is true, and who knows. */
export function AskedStep({ asked, job, writer, about = {}, onDone, onCancel }: Props) {
  const draft = useDraft(`${job}:${asked.kind}:${Object.values(about).join(":")}`);
  const [chosen, setChosen] = useState("");
  const choosing = asked.choices.length > 0;
  const send = () => {
    const words = asked.fields
      .map((f) => [f.id, draft.values[f.id] ?? ""] as const)
      .filter(([id, text]) => text !== "" || asked.fields.some((f) => f.id === id && f.required));
    const data = { ...asked.data, ...about, ...Object.fromEntries(words) };
    const all = choosing ? { ...data, [asked.choice]: chosen } : data;
    void writer.send([{ kind: asked.kind, data: all }]).then((stored) => {
      if (!stored) return;
      draft.clear();
      onDone?.();
    });
  };
  // What was pressed is gone with the step: the keyboard goes on in the question.
  const form = useRef<HTMLFormElement>(null);
  useEffect(() => form.current?.querySelector<HTMLElement>("input, select, textarea")?.focus(), []);
  return (
    <form
      ref={form}
      className="grid gap-3 [&_input]:scroll-mb-24"
      onSubmit={(event) => {
        event.preventDefault();
        send();
      }}
    >
      {choosing && (
        <fieldset className="grid grid-cols-2 gap-2">
          <legend className="mb-1 text-[14px] text-muted">What is true now</legend>
          {asked.choices.map((c) => (
            <label
              key={c.id}
              className="flex min-h-11 items-center gap-2 rounded-[10px] border border-line px-3 py-1 has-checked:border-accent has-checked:bg-accent-soft"
            >
              <input
                type="radio"
                name="state"
                required
                checked={chosen === c.id}
                onChange={() => setChosen(c.id)}
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
      <div className="sticky bottom-0 -mx-4 flex gap-2 bg-card px-4 py-2 lg:-bottom-4">
        <Button look="main" type="submit" className="flex-1" disabled={writer.sending} data-main>
          Record it
        </Button>
        {onCancel && <Button onClick={onCancel}>Cancel</Button>}
      </div>
    </form>
  );
}
