import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { ApiError } from "../../api/client";
import type { Me } from "../../api/session";
import { Button } from "../../ui/Button";
import { Page } from "../../ui/Page";
import { ErrorBox, Loading } from "../../ui/states";
import { moment } from "../../ui/time";
import { ValueEditor } from "../../ui/ValueEditor";
import { methodsQuery, useChangeRule, type Method, type Parameter } from "./api";

/** Methods with their limits: what the product says, what the site says, and since when. */
export default function MethodsPage({ user }: { user: Me }) {
  const methods = useQuery(methodsQuery);
  const [search, setSearch] = useSearchParams();
  if (methods.isPending) return <Loading what="the methods" />;
  if (methods.isError)
    return (
      <Page title="Methods">
        <ErrorBox error={methods.error} onRetry={() => void methods.refetch()} />
      </Page>
    );
  const chosen = methods.data.find((m) => m.id === search.get("m")) ?? methods.data[0];
  return (
    <Page
      title="Methods"
      aside={
        <p className="pb-1 text-muted">
          A manual counts before a rule of the site, a rule before the product default.{" "}
          <Link className="underline" to="/instruments">
            Instruments
          </Link>
        </p>
      }
    >
      <div className="grid items-start gap-5 lg:grid-cols-[330px_1fr]">
        <ul className="overflow-hidden rounded-2xl border border-line bg-card">
          {methods.data.map((m) => (
            <li key={m.id} className="border-t border-line first:border-t-0">
              <button
                type="button"
                aria-current={m.id === chosen?.id ? "true" : undefined}
                onClick={() => setSearch({ m: m.id })}
                className="w-full px-4 py-2.5 text-left hover:bg-sunk aria-[current]:bg-accent-soft"
              >
                <span className="block font-semibold">{m.title}</span>
                <span className="block text-[14px] text-muted">
                  <span className="digits">{m.instruments}</span>{" "}
                  {m.instruments === 1 ? "instrument" : "instruments"}, version{" "}
                  <span className="digits">{m.version}</span>
                </span>
              </button>
            </li>
          ))}
        </ul>
        {chosen && (
          <Limits key={chosen.id} method={chosen} mayChange={user.can.includes("method.change")} />
        )}
      </div>
    </Page>
  );
}

function Limits({ method, mayChange }: { method: Method; mayChange: boolean }) {
  const [edited, setEdited] = useState("");
  const editing = method.parameters.find((p) => p.id === edited) ?? null;
  const change = useChangeRule(method.id);
  const problem = change.error instanceof ApiError ? change.error.problem : null;
  const close = () => {
    setEdited("");
    change.reset();
  };
  return (
    <section className="rounded-2xl border border-line bg-card p-4">
      <h2 className="text-lg font-semibold">{method.title}</h2>
      <p className="text-[15px]">{method.fits}</p>
      <p className="mb-3 text-[14px] text-muted">{method.sources}</p>
      {!mayChange && (
        <p className="mb-3 rounded-xl bg-sunk p-3 text-[15px]">
          A planner changes the rules of the site. You see what counts now.
        </p>
      )}
      <table className="w-full text-left text-[15px]">
        <thead className="text-[14px] text-muted">
          <tr>
            {["Limit", "Counts now", "Source", ""].map((head) => (
              <th key={head} scope="col" className="py-1 pr-3 font-normal">
                {head || <span className="sr-only">Change</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {method.parameters.map((p) => (
            <tr key={p.id} className="border-t border-line align-top">
              <td className="py-2 pr-3">{p.label}</td>
              <td className="digits py-2 pr-3">
                {p.said} {p.unit}
                {p.value !== p.default && (
                  <span className="block text-[13.5px] text-muted">
                    default {p.default_said} {p.unit}
                  </span>
                )}
              </td>
              <td className="py-2 pr-3">
                {p.source}
                <Past p={p} />
              </td>
              <td className="py-1 text-right">
                {mayChange && (
                  <Button onClick={() => setEdited(p.id)} aria-label={`Change ${p.label}`}>
                    Change
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <ValueEditor
        spec={editing}
        title={`${editing?.label ?? ""}, for all of this method`}
        sourceLabel="Where does it come from? (procedure, decision)"
        back="Back to the default"
        withReason={false}
        busy={change.isPending}
        problem={problem}
        onClose={close}
        onSave={({ value, source, version }) =>
          editing &&
          change.mutate({ key: editing.id, value, source, version }, { onSuccess: close })
        }
      />
    </section>
  );
}

/** What changed since: every version of the site's rule, newest first. */
function Past({ p }: { p: Parameter }) {
  if (p.history.length === 0) return null;
  return (
    <details className="text-[14px] text-muted">
      <summary className="min-h-11 cursor-pointer py-2.5">What changed</summary>
      <ul>
        {p.history.map((h) => (
          <li key={h.version}>
            Version <span className="digits">{h.version}</span>:{" "}
            <span className="digits">
              {h.value} {p.unit}
            </span>
            , {h.source}
            {h.by && `, ${h.by}`}
            {h.at && `, ${moment(h.at)}`}
          </li>
        ))}
      </ul>
    </details>
  );
}
