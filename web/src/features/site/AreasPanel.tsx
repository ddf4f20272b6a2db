import { ArrowDownIcon, ArrowUpIcon } from "@heroicons/react/24/outline";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Empty, ErrorBox, Loading } from "../../ui/states";
import { wrongAt, WrongElsewhere } from "../../ui/wrong";
import { areasQuery, useAreas } from "./api";

/** The areas of the works, in the order in which a round walks. */
export function AreasPanel() {
  const areas = useQuery(areasQuery);
  const { add, order, rename } = useAreas();
  const [name, setName] = useState("");
  const [editing, setEditing] = useState({ name: "", to: "" });
  if (areas.isPending) return <Loading what="the areas" />;
  if (areas.isError) return <ErrorBox error={areas.error} onRetry={() => void areas.refetch()} />;
  const names = areas.data.map((a) => a.name);
  const move = (from: number, to: number) => {
    const next = names.filter((_, n) => n !== from);
    next.splice(to, 0, names[from] ?? "");
    order.mutate({ names: next, before: names });
  };
  const arrow = (label: string, Icon: typeof ArrowUpIcon, from: number, to: number) => (
    <button
      type="button"
      disabled={to < 0 || to >= names.length || order.isPending}
      onClick={() => move(from, to)}
      className="grid size-11 place-items-center rounded-[10px] hover:bg-sunk disabled:opacity-30"
    >
      <Icon className="size-5" aria-hidden="true" />
      <span className="sr-only">
        {names[from]}: {label}
      </span>
    </button>
  );
  return (
    <div className="grid items-start gap-5 lg:grid-cols-[1fr_340px]">
      <section aria-label="Areas">
        <p className="mb-2 text-muted">In the order in which a round walks.</p>
        {names.length === 0 && <Empty>There is no area yet: an instrument stands in one.</Empty>}
        <ol className="overflow-hidden rounded-2xl border border-line bg-card empty:hidden">
          {areas.data.map((a, n) => (
            <li
              key={a.name}
              className="flex items-center gap-2 border-t border-line px-4 py-1.5 first:border-t-0"
            >
              {editing.name === a.name ? (
                <form
                  className="flex flex-1 items-end gap-2"
                  onSubmit={(event) => {
                    event.preventDefault();
                    rename.mutate(editing, { onSuccess: () => setEditing({ name: "", to: "" }) });
                  }}
                >
                  <Field
                    className="flex-1"
                    label={`New name of ${a.name}`}
                    autoFocus
                    value={editing.to}
                    problem={wrongAt(rename.error, "name")}
                    onChange={(e) => setEditing({ ...editing, to: e.target.value })}
                  />
                  <Button type="submit">Store</Button>
                </form>
              ) : (
                <>
                  <span className="min-w-0 flex-1">
                    {a.name} <span className="digits text-[14px] text-muted">{a.instruments}</span>{" "}
                    <span className="text-[14px] text-muted">
                      {a.instruments === 1 ? "instrument" : "instruments"}
                    </span>
                  </span>
                  <Button onClick={() => setEditing({ name: a.name, to: a.name })}>Rename</Button>
                </>
              )}
              {arrow("earlier", ArrowUpIcon, n, n - 1)}
              {arrow("later", ArrowDownIcon, n, n + 1)}
            </li>
          ))}
        </ol>
        <WrongElsewhere error={order.error} fields={[]} />
      </section>
      <form
        className="grid gap-3 rounded-2xl border border-line bg-card p-5"
        onSubmit={(event) => {
          event.preventDefault();
          add.mutate(name, { onSuccess: () => setName("") });
        }}
      >
        <h2 className="font-semibold">A new area</h2>
        <Field
          label="Name of the area"
          value={name}
          problem={wrongAt(add.error, "name")}
          onChange={(e) => setName(e.target.value)}
        />
        <WrongElsewhere error={add.error} fields={["name"]} />
        <Button look="main" type="submit" disabled={add.isPending}>
          Add it
        </Button>
      </form>
    </div>
  );
}
