import { useEffect, useRef, useState } from "react";
import { Button } from "../../../ui/Button";
import { Field } from "../../../ui/Field";
import { useDraft } from "../../../ui/draft";
import type { Writer } from "../useWriter";
import { problemAt, type Form } from "./types";

type Props = {
  form: Form;
  job: string;
  writer: Writer;
  /** What is sent besides the answers, where a person chose it on the screen. */
  about?: Record<string, unknown>;
  /** It stands beside something else that is typed: the focus stays there. */
  aside?: boolean;
  onDone?: () => void;
  onCancel?: () => void;
};

/** What is true where something is not so, not here or went wrong, and who knows. */
export function FormAsk({ form, job, writer, about = {}, aside, onDone, onCancel }: Props) {
  const data = { ...form.data, ...about };
  const draft = useDraft(`${job}:${form.kind}:${Object.values(data).join(":")}`);
  const [chosen, setChosen] = useState("");
  const choosing = form.choices.length > 0;
  const send = () => {
    const words = form.fields
      .map((f) => [f.id, draft.values[f.id] ?? ""] as const)
      .filter(([id, text]) => text !== "" || form.fields.some((f) => f.id === id && f.required));
    const said = { ...data, ...Object.fromEntries(words) };
    const all = choosing ? { ...said, [form.choice]: chosen } : said;
    void writer.send([{ kind: form.kind, data: all }]).then((stored) => {
      if (!stored) return;
      draft.clear();
      onDone?.();
    });
  };
  // What was pressed is gone with the step: the keyboard goes on in the question.
  const own = useRef<HTMLFormElement>(null);
  useEffect(() => {
    if (!aside) own.current?.querySelector<HTMLElement>("input, select, textarea")?.focus();
  }, [aside]);
  return (
    <form
      ref={own}
      aria-label={form.title}
      className="grid gap-3 [&_input]:scroll-mb-24"
      onSubmit={(event) => {
        event.preventDefault();
        send();
      }}
    >
      {choosing && (
        <fieldset className="grid grid-cols-2 gap-2">
          <legend className="mb-1 text-[14px] text-muted">{form.legend}</legend>
          {form.choices.map((c) => (
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
      {form.fields.map((f, n) => (
        <div key={f.id}>
          <Field
            label={f.required ? f.label : `${f.label} (if any)`}
            placeholder={f.hint}
            autoFocus={n === 0 && !choosing && !aside}
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
      <div
        className={
          aside ? "flex" : "sticky bottom-0 -mx-4 flex gap-2 bg-card px-4 py-2 lg:-bottom-4"
        }
      >
        <Button
          look={aside ? "plain" : "main"}
          type="submit"
          className="flex-1 font-semibold"
          disabled={writer.sending}
          data-main={aside ? undefined : true}
        >
          {form.send}
        </Button>
        {onCancel && <Button onClick={onCancel}>Cancel</Button>}
      </div>
    </form>
  );
}
