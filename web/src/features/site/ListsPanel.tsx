import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Button } from "../../ui/Button";
import { Pick } from "../../ui/Pick";
import { ErrorBox, Loading } from "../../ui/states";
import { WrongElsewhere } from "../../ui/wrong";
import { BroughtLists } from "./BroughtLists";
import {
  listsQuery,
  useBringIn,
  useSynonym,
  type ListKind,
  type Preview,
  type Progress,
  type Row,
} from "./lists";

const FATES = {
  refused: "refused",
  changed: "changed",
  new: "new",
  unchanged: "as it is",
} as const;

/** Lists out, to keep or to change in a spreadsheet, and in again. */
export function ListsPanel() {
  const lists = useQuery(listsQuery);
  const [chosen, setChosen] = useState("");
  if (lists.isPending) return <Loading what="the lists" />;
  if (lists.isError) return <ErrorBox error={lists.error} onRetry={() => void lists.refetch()} />;
  const one = lists.data.find((l) => l.id === chosen) ?? lists.data[0];
  return (
    <div className="grid items-start gap-5 lg:grid-cols-[220px_minmax(0,1fr)]">
      <ul className="overflow-hidden rounded-2xl border border-line bg-card p-2">
        {lists.data.map((l) => (
          <li key={l.id}>
            <button
              type="button"
              aria-current={l.id === one?.id ? "true" : undefined}
              onClick={() => setChosen(l.id)}
              className="min-h-11 w-full rounded-xl px-3 text-left hover:bg-sunk aria-[current]:bg-accent-soft aria-[current]:font-semibold"
            >
              {l.title}
            </button>
          </li>
        ))}
      </ul>
      {one && <OneList key={one.id} list={one} />}
    </div>
  );
}

function OneList({ list }: { list: ListKind }) {
  const out = (name: string, label: string) => (
    <a
      href={`api/v1/lists/${list.id}/${name}`}
      download
      className="grid min-h-11 place-items-center rounded-xl border border-line bg-card px-4"
    >
      {label}
    </a>
  );
  return (
    <div className="grid gap-4">
      <section aria-label="Out" className="rounded-2xl border border-line bg-card p-5">
        <h2 className="mb-3 font-semibold">{list.title}: out</h2>
        <p className="flex flex-wrap gap-2">
          {out("list.xlsx", "As XLSX")}
          {out("list.csv", "As CSV")}
          {out("template.xlsx", "Empty, with every column explained")}
        </p>
      </section>
      {list.may && <BringIn list={list} />}
      <BroughtLists />
    </div>
  );
}

/** A file is looked at first; nothing is written before it is accepted as a whole. */
function BringIn({ list }: { list: ListKind }) {
  const input = useRef<HTMLInputElement>(null);
  const [file, setFile] = useState<File | null>(null);
  const { bring, progress } = useBringIn(list.id);
  const found = bring.data ?? null;
  const look = (next: File | null) => {
    setFile(next);
    if (next) bring.mutate({ file: next, accept: "" });
  };
  return (
    <section aria-label="In" className="rounded-2xl border border-line bg-card p-5">
      <h2 className="mb-1 font-semibold">{list.title}: in</h2>
      <p className="mb-3 text-muted">
        CSV in UTF-8 or XLSX. Each row is looked at, and nothing is written before you say so; a
        column that the file does not have leaves what there is.
      </p>
      <input
        ref={input}
        type="file"
        accept=".csv,.xlsx"
        aria-label="File"
        hidden
        onChange={(e) => {
          look(e.target.files?.[0] ?? null);
          e.target.value = "";
        }}
      />
      <p className="flex flex-wrap items-center gap-3">
        <Button disabled={bring.isPending} onClick={() => input.current?.click()}>
          {file ? "Choose another file" : "Choose a file"}
        </Button>
        {file && <span>{file.name}</span>}
      </p>
      {bring.isPending && <Bar progress={progress} />}
      <div className="mt-3">
        <WrongElsewhere error={bring.error} fields={[]} />
      </div>
      {!bring.isPending && found && file && (
        <Fates
          list={list}
          found={found}
          onAccept={() => bring.mutate({ file, accept: found.mark })}
          onAgain={() => look(file)}
        />
      )}
    </section>
  );
}

function Bar({ progress }: { progress: Progress | null }) {
  return (
    <div className="mt-3">
      <progress
        aria-label="How far it is"
        className="h-3 w-full accent-accent"
        max={progress?.total || undefined}
        value={progress?.total ? progress.done : undefined}
      />
      <p role="status" className="text-[14px] text-muted">
        {progress ? `${progress.doing}: ${progress.done} of ${progress.total}` : "sending"}
      </p>
    </div>
  );
}

type FatesProps = {
  list: ListKind;
  found: Preview;
  onAccept: () => void;
  onAgain: () => void;
};

function Fates({ list, found, onAccept, onAgain }: FatesProps) {
  if (found.unknown.length > 0)
    return <Headings list={list} unknown={found.unknown} onDone={onAgain} />;
  const { refused = 0, changed = 0, new: fresh = 0, unchanged = 0, skipped = 0 } = found.sums;
  const sum = `${fresh} new, ${changed} changed, ${unchanged} as they are, ${refused} refused`;
  if (found.kept)
    return (
      <p role="status" className="mt-3 rounded-xl bg-sunk px-4 py-3">
        Stored: {fresh} new, {changed} changed
        {skipped > 0 && `; ${skipped} left as they are, since others changed them meanwhile`}. Each
        change keeps who made it and by which list.
      </p>
    );
  return (
    <>
      <p role="status" className="digits mt-3 text-lg">
        {sum}
      </p>
      {refused > 0 ? (
        <p className="mb-2">Correct the refused rows in the file and choose it again.</p>
      ) : (
        fresh + changed > 0 && (
          <Button look="main" className="mt-2 mb-3" onClick={onAccept}>
            Store {fresh + changed} {fresh + changed === 1 ? "row" : "rows"}
          </Button>
        )
      )}
      <div className="relative max-h-[460px] overflow-auto">
        <table className="w-full text-left text-[14.5px]">
          <thead className="text-[13px] text-muted">
            <tr>
              {["Row", list.key, "Becomes", "Why"].map((head) => (
                <th key={head} scope="col" className="py-1 pr-4 font-normal">
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {found.rows.map((row) => (
              <Line key={row.row} row={row} />
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}

function Line({ row }: { row: Row }) {
  return (
    <tr className="border-t border-line align-top">
      <td className="digits py-1.5 pr-4">{row.row}</td>
      <td className="py-1.5 pr-4 font-semibold whitespace-nowrap">{row.key || "none"}</td>
      <td
        className={`py-1.5 pr-4 whitespace-nowrap ${row.fate === "refused" ? "text-outside" : ""}`}
      >
        {FATES[row.fate]}
      </td>
      <td className="py-1.5">
        {row.wrong.map((w) => (
          <span key={w.field + w.message} className="block">
            <strong>{w.field}</strong>: {w.message} {w.remedy}
          </span>
        ))}
        {row.differs.map((d) => (
          <span key={d.column} className="block">
            {d.column}: <span className="text-muted">{d.before || "nothing"}</span> to{" "}
            {d.after || "nothing"}
          </span>
        ))}
      </td>
    </tr>
  );
}

type HeadingsProps = { list: ListKind; unknown: string[]; onDone: () => void };

/** Headings of the plant's own: what each stands for is asked once, and kept. */
function Headings({ list, unknown, onDone }: HeadingsProps) {
  const keep = useSynonym(list.id);
  const [meant, setMeant] = useState<Record<string, string>>({});
  const choices = [
    { value: "-", label: "nothing: leave it out" },
    ...list.columns.map((c) => ({ value: c.name, label: `${c.name}: ${c.label}` })),
  ];
  const whole = unknown.every((heading) => meant[heading]);
  const send = async () => {
    for (const heading of unknown) {
      const column = meant[heading] === "-" ? "" : (meant[heading] ?? "");
      await keep.mutateAsync({ heading, column });
    }
    onDone();
  };
  return (
    <form
      className="mt-3 grid max-w-xl gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        void send().catch(() => undefined);
      }}
    >
      <p>Some headings are not known yet. What does each stand for? It is asked once.</p>
      {unknown.map((heading) => (
        <Pick
          key={heading}
          label={heading}
          none="choose"
          choices={choices}
          value={meant[heading] ?? ""}
          onChange={(e) => setMeant({ ...meant, [heading]: e.target.value })}
        />
      ))}
      <WrongElsewhere error={keep.error} fields={[]} />
      <Button look="main" type="submit" disabled={!whole || keep.isPending}>
        Keep it and look again
      </Button>
    </form>
  );
}
