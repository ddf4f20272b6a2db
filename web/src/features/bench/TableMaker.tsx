import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError } from "../../api/client";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { benchQueries, download, type Form, type Payload, type TableAsked } from "./api";

/** A table to print: range and step on the screen, as CSV and as PDF. */
export function TableMaker({ form, payload }: { form: Form; payload: Payload }) {
  const first = form.table;
  const [range, setRange] = useState({
    start: first?.start ?? "0",
    stop: first?.stop ?? "100",
    step: first?.step ?? "10",
  });
  const [asked, setAsked] = useState<TableAsked | null>(null);
  const [failed, setFailed] = useState<Error | null>(null);
  if (!first) return null;
  const wanted = (): TableAsked => ({
    operation: form.name,
    fixed: withSet(payload, first.set ?? {}),
    vary: first.vary,
    columns: first.columns,
    ...range,
  });
  const save = (kind: "csv" | "pdf") => {
    setFailed(null);
    download(wanted(), kind).catch((e: Error) => setFailed(e));
  };
  return (
    <section aria-label="Table" className="mt-5 rounded-xl border border-line bg-card p-4">
      <h3 className="font-semibold">Table to carry</h3>
      <form
        className="mt-2 flex flex-wrap items-end gap-3 print:hidden"
        onSubmit={(e) => {
          e.preventDefault();
          setAsked(wanted());
        }}
      >
        {(["start", "stop", "step"] as const).map((name) => (
          <Field
            key={name}
            digits
            className="w-32"
            label={{ start: "From", stop: "To", step: "Step" }[name]}
            value={range[name]}
            onChange={(e) => setRange({ ...range, [name]: e.target.value })}
          />
        ))}
        <Button type="submit">Show</Button>
        <Button onClick={() => save("csv")}>CSV</Button>
        <Button onClick={() => save("pdf")}>PDF</Button>
      </form>
      {failed instanceof ApiError && (
        <p role="alert" className="mt-2 text-outside">
          {failed.problem.message} {failed.problem.remedy}
        </p>
      )}
      {asked && <Made asked={asked} />}
    </section>
  );
}

const withSet = (payload: Payload, set: Payload): Payload =>
  Object.fromEntries(Object.entries({ ...payload, ...set }).filter(([, v]) => v !== null));

function Made({ asked }: { asked: TableAsked }) {
  const table = useQuery(benchQueries.table(asked));
  if (table.error instanceof ApiError)
    return (
      <p role="alert" className="mt-2 text-outside">
        {table.error.problem.message} {table.error.problem.remedy}
      </p>
    );
  if (!table.data) return <p className="mt-2 text-muted">Computing …</p>;
  return (
    <div className="mt-3 max-h-[420px] overflow-auto print:max-h-none">
      <table className="text-[15px]">
        <thead className="sticky top-0 bg-card">
          <tr className="text-left text-[13px] text-muted">
            {table.data.columns.map((c) => (
              <th key={c} className="px-3 py-1 font-normal">
                {c}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {table.data.rows.map((row, n) => (
            <tr key={n} className="border-t border-line">
              {row.map((cell, k) => (
                <td key={k} className="digits px-3 py-0.5 text-right">
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
