import { queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { ApiError, client, unwrap, type Problem, type Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Page } from "../../ui/Page";
import { ErrorBox, Loading } from "../../ui/states";

type Tables = Schemas["TablesOut"];

const tablesQuery = queryOptions({
  queryKey: ["bench", "tables"] as const,
  queryFn: ({ signal }) => unwrap(client.GET("/api/v1/bench/tables", { signal })),
});

/** The data behind the calculators: shipped with its source, and what the site adds. */
export default function TablesPage() {
  const tables = useQuery(tablesQuery);
  return (
    <Page
      title="Data tables"
      aside={
        <Link
          to="/bench"
          className="inline-flex min-h-11 items-center underline underline-offset-4"
        >
          Back to the Bench
        </Link>
      }
    >
      {tables.isPending && <Loading what="the tables" />}
      {tables.isError && <ErrorBox error={tables.error} onRetry={() => void tables.refetch()} />}
      {tables.data && (
        <div className="grid gap-5">
          <Buffers tables={tables.data} />
          {tables.data.may_edit && <NewBuffer />}
          <Gases tables={tables.data} />
          <Units tables={tables.data} />
        </div>
      )}
    </Page>
  );
}

const BOX = "relative overflow-x-auto rounded-xl border border-line bg-card p-4";
const HEAD = "px-3 py-1 text-left align-bottom text-[13px] font-normal text-muted";
const CELL = "digits px-3 py-1 text-[14px] whitespace-nowrap";

function Buffers({ tables }: { tables: Tables }) {
  const sets = [...new Set(tables.buffers.map((b) => b.set))];
  return (
    <section tabIndex={0} className={BOX} aria-label="pH buffers">
      <h2 className="text-lg font-semibold">pH buffers by temperature [°C]</h2>
      {!tables.may_edit && (
        <p className="text-[14px] text-muted">A planner adds the buffers of the site.</p>
      )}
      {sets.map((set) => {
        const rows = tables.buffers.filter((b) => b.set === set);
        const heads = [...new Set(rows.flatMap((b) => b.temperatures_c))].sort(
          (a, b) => Number(a) - Number(b),
        );
        return (
          <table key={set} className="mt-3 w-full">
            <caption className="text-left text-[15px]">
              {set} <span className="text-muted">{rows[0]?.source}</span>
              {rows[0]?.by && <span className="text-muted">, entered by {rows[0].by}</span>}
            </caption>
            <thead>
              <tr>
                <th className={HEAD}>Buffer</th>
                {heads.map((t) => (
                  <th key={t} className={HEAD}>
                    {t}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map((b) => (
                <tr key={b.nominal} className="border-t border-line">
                  <td className={CELL}>{b.nominal}</td>
                  {heads.map((t) => (
                    <td key={t} className={CELL}>
                      {b.values[b.temperatures_c.indexOf(t)] ?? ""}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        );
      })}
    </section>
  );
}

const EMPTY = { set: "", nominal: "", temperatures_c: "", values: "", source: "" };
const LABELS = {
  set: ["Set", "a name of the site's own"],
  nominal: ["Buffer", "its pH at 25 °C, e.g. 9.22"],
  temperatures_c: ["Temperatures", "rising, e.g. 15; 20; 25; 30"],
  values: ["pH at these temperatures", "one for each, e.g. 9.31; 9.27; 9.22; 9.18"],
  source: ["Source", "e.g. label of the bottle, lot"],
} as const;

/** A buffer of the site; saving the same set and buffer again gives it a newer table. */
function NewBuffer() {
  const queries = useQueryClient();
  const [typed, setTyped] = useState(EMPTY);
  const list = (text: string) => text.split(/[;\s]+/).filter(Boolean);
  const save = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST("/api/v1/bench/buffers", {
          body: {
            ...typed,
            temperatures_c: list(typed.temperatures_c),
            values: list(typed.values),
          },
        }),
      ),
    onSuccess: (tables) => {
      queries.setQueryData(tablesQuery.queryKey, tables);
      void queries.invalidateQueries({ queryKey: ["bench", "result"] });
      setTyped(EMPTY);
    },
  });
  const problem: Problem | null = save.error instanceof ApiError ? save.error.problem : null;
  const field = problem?.field.split(".")[0] ?? "";
  return (
    <form
      aria-label="Add a buffer of the site"
      className={`${BOX} grid gap-3 sm:grid-cols-2`}
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate();
      }}
    >
      <h2 className="col-span-full text-lg font-semibold">Add a buffer of the site</h2>
      {(Object.keys(LABELS) as (keyof typeof LABELS)[]).map((name) => (
        <Field
          key={name}
          label={LABELS[name][0]}
          hint={LABELS[name][1]}
          value={typed[name]}
          problem={field === name ? problem : null}
          onChange={(e) => setTyped({ ...typed, [name]: e.target.value })}
        />
      ))}
      <div className="col-span-full flex items-center gap-4">
        <Button look="main" type="submit" disabled={save.isPending}>
          Save the buffer
        </Button>
        {problem && !(field in LABELS) && (
          <p role="alert" className="text-outside">
            {problem.message} {problem.remedy}
          </p>
        )}
        {save.isSuccess && <p role="status">Saved.</p>}
      </div>
    </form>
  );
}

function Gases({ tables }: { tables: Tables }) {
  return (
    <section tabIndex={0} className={BOX} aria-label="Gases">
      <h2 className="text-lg font-semibold">Gases</h2>
      <p className="rounded-lg border-l-4 border-caution-edge bg-caution px-3 py-2 text-[15px]">
        Lower explosive limits differ between standards. Check them against the edition your site
        holds before relying on them.
      </p>
      <table className="mt-2">
        <thead>
          <tr>
            <th className={HEAD}>Gas</th>
            <th className={HEAD}>Molar mass [g/mol]</th>
            {tables.sets.map((s) => (
              <th key={s} className={HEAD}>
                LEL by {s} [% vol]
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {tables.gases.map((g) => (
            <tr key={g.name} className="border-t border-line">
              <td className="px-3 py-1">{g.name}</td>
              <td className={CELL}>{g.molar_mass}</td>
              {g.limits.map((limit, n) => (
                <td key={n} className={CELL}>
                  {limit || "does not burn"}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Units({ tables }: { tables: Tables }) {
  const kinds = [...new Set(tables.units.map((u) => u.family))];
  return (
    <section tabIndex={0} className={BOX} aria-label="Units">
      <h2 className="text-lg font-semibold">Units</h2>
      <p className="text-[14px] text-muted">
        NIST SP 811 (2008), appendix B.8; in the first unit of each line
      </p>
      <ul className="mt-2 grid gap-1">
        {kinds.map((kind) => (
          <li key={kind} className="flex flex-wrap gap-x-5 border-t border-line py-1">
            <span className="w-28 text-muted">{kind}</span>
            {tables.units
              .filter((u) => u.family === kind)
              .map((u) => (
                <span key={u.name} className="digits text-[14px]">
                  {u.name} {u.factor}
                </span>
              ))}
          </li>
        ))}
      </ul>
    </section>
  );
}
