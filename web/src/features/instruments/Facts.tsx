import { useState } from "react";
import { Link } from "react-router";
import { ApiError, type Schemas } from "../../api/client";
import type { Me } from "../../api/session";
import { Button } from "../../ui/Button";
import { moment } from "../../ui/time";
import { ValueEditor } from "../../ui/ValueEditor";
import { useChangeParameter, type Instrument } from "./api";
import { ChooseMethod } from "./ChooseMethod";

type Limit = Schemas["LimitOut"];

/** Who it is, by which method it is checked, and every limit with where it comes from. */
export function Facts({ i, user }: { i: Instrument; user: Me }) {
  const mayChange = user.can.includes("method.change");
  const [choosing, setChoosing] = useState(false);
  const [editing, setEditing] = useState<Limit | null>(null);
  const change = useChangeParameter(i.tag);
  const close = () => {
    setEditing(null);
    change.reset();
  };
  const facts = [
    ["Serial", i.serial],
    ["Range", i.range],
    ["Output", i.output],
    ...i.record.map((line) => [line.label, line.value] as const),
    ["Used for", i.loop_role],
    ["Next due", i.next_due || "not planned"],
    ["Why then", i.due_reason || "not planned yet"],
  ];
  return (
    <section className="rounded-2xl border border-line bg-card p-4">
      <h2 className="mb-2 font-semibold">Identity</h2>
      <dl className="grid grid-cols-[112px_1fr] gap-y-1 text-[15px]">
        {facts.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="text-muted">{name}</dt>
            <dd>{value}</dd>
          </div>
        ))}
      </dl>
      <h2 className="mt-5 mb-1 font-semibold">Method</h2>
      <p className="text-[15px]">
        <Link className="underline" to={`/methods?m=${i.method.id}`}>
          {i.method.title}
        </Link>
        <span className="block text-[14px] text-muted">fits: {i.method.why}</span>
      </p>
      {mayChange && i.methods.length > 1 && (
        <Button className="mt-2" onClick={() => setChoosing(true)}>
          Choose another method
        </Button>
      )}
      <h2 className="mt-5 mb-2 font-semibold">Limits and where they come from</h2>
      <ul className="text-[15px]">
        <li className="border-t border-line py-1.5">
          Tolerance <span className="digits">{i.tolerance}</span>
          <span className="block text-[14px] text-muted">{i.tolerance_source}</span>
        </li>
        {i.limits.map((limit) => (
          <li
            key={limit.id}
            className="flex items-center justify-between gap-2 border-t border-line py-1.5"
          >
            <span>
              {limit.label}{" "}
              <span className="digits">
                {limit.value} {limit.unit}
              </span>
              <span className="block text-[14px] text-muted">{limit.source}</span>
            </span>
            {mayChange && (
              <Button
                className="text-[14px]"
                onClick={() => setEditing(limit)}
                aria-label={`Change ${limit.label}`}
              >
                Change
              </Button>
            )}
          </li>
        ))}
      </ul>
      {i.changes.length > 0 && (
        <>
          <h2 className="mt-5 mb-2 font-semibold">Changes</h2>
          <ul className="text-[14px]">
            {i.changes.map((c) => (
              <li key={`${c.at}${c.text}`} className="border-t border-line py-1.5">
                {c.text}
                <span className="block text-muted">
                  {c.by}, {moment(c.at)}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
      <ValueEditor
        spec={editing && { ...editing, value: editing.value.replaceAll(" ", spaced(editing)) }}
        title={`${editing?.label ?? ""}, for ${i.tag} alone`}
        sourceLabel="Where does it come from? (manual and page)"
        back="Back to the site's"
        withReason
        busy={change.isPending}
        problem={change.error instanceof ApiError ? change.error.problem : null}
        onClose={close}
        onSave={(edited) =>
          editing && change.mutate({ key: editing.id, ...edited }, { onSuccess: close })
        }
      />
      <ChooseMethod open={choosing} i={i} onClose={() => setChoosing(false)} />
    </section>
  );
}

/** Choices are shown with blanks and kept with underscores; lists of points keep their blanks. */
const spaced = (limit: Limit) => (limit.kind === "choice" ? "_" : " ");
