import { PlusIcon, XMarkIcon } from "@heroicons/react/24/outline";
import { useId } from "react";
import type { Problem } from "../../api/client";
import { toInputs, unitOf, withUnit, type Entry, type Inputs } from "./inputs";

type Props = {
  entries: Entry[];
  inputs: Inputs;
  onChange: (inputs: Inputs) => void;
  /** Dotted name of what these fields are in; empty at the top. */
  path?: string;
  /** What is wrong, each with the dotted name of its field. */
  problems: Problem[];
  oneOf?: string[];
  /** Two fields beside each other, lists over the whole width. */
  wide?: boolean;
};

const BOX =
  "min-h-11 w-full min-w-0 rounded-[10px] border bg-card px-2.5 py-2 aria-invalid:border-2 aria-invalid:border-outside border-line";

/** The fields of a form, by their kind. */
export function FormFields({
  entries,
  inputs,
  onChange,
  path = "",
  problems,
  oneOf = [],
  wide = false,
}: Props) {
  const set = (entry: Entry, value: Inputs[string]) => {
    const next: Inputs = { ...inputs, [entry.name]: value };
    if (oneOf.includes(entry.name) && value !== "")
      for (const other of oneOf) if (other !== entry.name) next[other] = "";
    onChange(next);
  };
  return (
    <div className={`grid items-start gap-x-6 gap-y-3 ${wide ? "lg:grid-cols-2" : ""}`}>
      {entries.map((entry) => {
        const at = path + entry.name;
        const wrong = problems.filter((p) => p.field === at || p.field.startsWith(`${at}.`));
        const shared = { entry, inputs, problem: wrong[0] ?? null };
        if (entry.kind === "rows")
          return (
            <Rows
              key={at}
              entry={entry}
              inputs={inputs}
              problems={wrong}
              at={at}
              onChange={(rows) => set(entry, rows)}
            />
          );
        if (entry.kind === "group")
          return (
            <fieldset key={at} className="min-w-0 rounded-xl border border-line p-3">
              <legend className="px-1 text-[14px] text-muted">{entry.label}</legend>
              <FormFields
                entries={entry.entries ?? []}
                inputs={(inputs[entry.name] as Inputs | undefined) ?? {}}
                onChange={(inner) => set(entry, inner)}
                path={`${at}.`}
                problems={wrong}
              />
            </fieldset>
          );
        return (
          <Single
            key={at}
            {...shared}
            onChange={(value) => set(entry, value)}
            onUnit={(unit) => onChange(withUnit(inputs, entry, unit))}
            hint={oneOf.includes(entry.name) ? "give one of these" : ""}
          />
        );
      })}
    </div>
  );
}

type SingleProps = {
  entry: Entry;
  inputs: Inputs;
  problem: Problem | null;
  onChange: (value: Inputs[string]) => void;
  onUnit: (unit: string) => void;
  hint?: string;
  bare?: boolean;
};

/** One field: a number with its unit, a choice, a yes or no, a text. */
function Single({ entry, inputs, problem, onChange, onUnit, hint, bare = false }: SingleProps) {
  const id = useId();
  const value = inputs[entry.name];
  const common = {
    id,
    "aria-invalid": problem ? (true as const) : undefined,
    "aria-describedby": problem ? `${id}-problem` : undefined,
    "aria-label": bare ? entry.label : undefined,
  };
  if (entry.kind === "yes_no")
    return (
      <label className="flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          className="size-6 accent-accent"
          checked={value === true}
          onChange={(e) => onChange(e.target.checked)}
        />
        {!bare && entry.label}
        {bare && <span className="sr-only">{entry.label}</span>}
      </label>
    );
  return (
    <div
      className={bare ? "" : "grid grid-cols-[minmax(0,1fr)_minmax(190px,54%)] items-center gap-3"}
    >
      {!bare && (
        <label htmlFor={id} className="text-[15px] leading-tight">
          {entry.label}
          {(hint || (!entry.required && !entry.default)) && (
            <span className="block text-[13px] text-muted">{hint || "may stay empty"}</span>
          )}
        </label>
      )}
      <div className="flex min-w-0 items-center gap-2">
        {entry.kind === "choice" || entry.kind === "choices" ? (
          <Choice {...common} entry={entry} value={value} onChange={onChange} />
        ) : (
          <input
            {...common}
            className={`${BOX} ${entry.kind === "text" ? "" : "digits"}`}
            inputMode={entry.kind === "text" ? "text" : "decimal"}
            autoComplete="off"
            size={bare ? 5 : undefined}
            value={typeof value === "string" ? value : ""}
            onFocus={(e) => e.target.select()}
            onChange={(e) => onChange(e.target.value)}
          />
        )}
        <Unit entry={entry} inputs={inputs} onUnit={onUnit} bare={bare} />
      </div>
      {problem && (
        <p id={`${id}-problem`} role="alert" className="col-span-2 text-[14px] text-outside">
          {problem.message} {problem.remedy}
        </p>
      )}
    </div>
  );
}

function Unit({
  entry,
  inputs,
  onUnit,
  bare,
}: Pick<SingleProps, "entry" | "inputs" | "onUnit" | "bare">) {
  const units = entry.units ?? [];
  if (entry.kind === "number" && units.length > 1 && !bare)
    return (
      <select
        aria-label={`Unit of ${entry.label}`}
        className="min-h-11 w-[4.9rem] shrink-0 rounded-[10px] border border-line bg-card px-1.5"
        value={unitOf(inputs, entry)}
        onChange={(e) => onUnit(e.target.value)}
      >
        {units.map((unit) => (
          <option key={unit}>{unit}</option>
        ))}
      </select>
    );
  if (!entry.unit || bare) return null;
  return (
    <span className="w-[4.9rem] shrink-0 text-[14px] leading-tight text-muted">{entry.unit}</span>
  );
}

function Choice({
  entry,
  value,
  onChange,
  ...rest
}: {
  entry: Entry;
  value: Inputs[string];
  onChange: (value: Inputs[string]) => void;
  id: string;
}) {
  const choices = entry.choices ?? [];
  const said = entry.choices_said ?? choices;
  if (entry.kind === "choices") {
    const chosen = Array.isArray(value) ? (value as string[]) : [];
    return (
      <div id={rest.id} className="flex flex-wrap gap-x-4">
        {choices.map((choice, n) => (
          <label key={choice} className="flex min-h-11 items-center gap-2">
            <input
              type="checkbox"
              className="size-6 accent-accent"
              checked={chosen.includes(choice)}
              onChange={() =>
                onChange(choices.filter((c) => (c === choice) !== chosen.includes(c)))
              }
            />
            {said[n]}
          </label>
        ))}
      </div>
    );
  }
  return (
    <select
      {...rest}
      className={BOX}
      value={typeof value === "string" ? value : ""}
      onChange={(e) => onChange(e.target.value)}
    >
      {!entry.default && <option value="">choose</option>}
      {choices.map((choice, n) => (
        <option key={choice} value={choice}>
          {said[n]}
        </option>
      ))}
    </select>
  );
}

const WIDTHS: Partial<Record<Entry["kind"], string>> = {
  number: "w-[4.6rem] min-w-[4.6rem]",
  yes_no: "w-11",
  choice: "min-w-[5.4rem]",
};

/** The columns of a list; a group inside a line gives its fields as columns of their own. */
function columnsOf(entries: Entry[]) {
  return entries.flatMap((entry) =>
    entry.kind === "group"
      ? (entry.entries ?? []).map((inner) => ({
          at: `${entry.name}.${inner.name}`,
          inside: entry.name,
          entry: inner,
        }))
      : entry.kind === "rows"
        ? []
        : [{ at: entry.name, inside: "", entry }],
  );
}

/** How many columns the widest list of a form has; a wide one takes the whole width. */
export const widestList = (entries: Entry[]) =>
  Math.max(0, ...entries.map((e) => (e.kind === "rows" ? columnsOf(e.entries ?? []).length : 0)));

type RowsProps = {
  entry: Entry;
  inputs: Inputs;
  at: string;
  problems: Problem[];
  onChange: (rows: Inputs[]) => void;
};

/** A list of like things, a line each. */
function Rows({ entry, inputs, at, problems, onChange }: RowsProps) {
  const columns = columnsOf(entry.entries ?? []);
  const rows = (inputs[entry.name] as Inputs[] | undefined) ?? [];
  const put = (n: number, row: Inputs) => onChange(rows.map((r, i) => (i === n ? row : r)));
  const last = rows.at(-1);
  const add = () => onChange([...rows, last ? { ...last } : toInputs(entry.entries ?? [], {})]);
  return (
    <fieldset className="col-span-full min-w-0 rounded-xl border border-line p-3">
      <legend className="px-1 text-[14px] text-muted">{entry.label}</legend>
      {rows.length > 0 && (
        <div className="relative overflow-x-auto">
          <table className="w-full min-w-max border-separate border-spacing-1 text-[15px]">
            <thead>
              <tr className="text-left align-bottom text-[13px] text-muted">
                {columns.map(({ at: place, entry: c }) => (
                  <th key={place} className="max-w-28 px-1 font-normal">
                    {c.label}
                    {c.unit ? ` [${c.unit}]` : ""}
                  </th>
                ))}
                <th>
                  <span className="sr-only">Remove</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {rows.map((row, n) => (
                <tr key={n} className="align-top">
                  {columns.map(({ at: place, inside, entry: c }) => {
                    const held = inside ? ((row[inside] as Inputs | undefined) ?? {}) : row;
                    const keep = (value: Inputs[string]) => {
                      const next = { ...held, [c.name]: value };
                      put(n, inside ? { ...row, [inside]: next } : next);
                    };
                    return (
                      <td key={place} className={WIDTHS[c.kind] ?? "min-w-28"}>
                        <Single
                          bare
                          entry={c}
                          inputs={held}
                          problem={problems.find((p) => p.field === `${at}.${n}.${place}`) ?? null}
                          onChange={keep}
                          onUnit={() => undefined}
                        />
                      </td>
                    );
                  })}
                  <td>
                    <button
                      type="button"
                      className="grid size-11 place-items-center rounded-[10px] hover:bg-sunk"
                      onClick={() => onChange(rows.filter((_, i) => i !== n))}
                    >
                      <XMarkIcon className="size-5" aria-hidden="true" />
                      <span className="sr-only">Remove line {n + 1}</span>
                    </button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <button
        type="button"
        onClick={add}
        className="mt-1 flex min-h-11 items-center gap-2 rounded-[10px] px-2 hover:bg-sunk"
      >
        <PlusIcon className="size-5" aria-hidden="true" /> Add a line
      </button>
      {problems
        .filter((p) => p.field === at)
        .map((p) => (
          <p key={p.code} role="alert" className="text-[14px] text-outside">
            {p.message} {p.remedy}
          </p>
        ))}
    </fieldset>
  );
}
