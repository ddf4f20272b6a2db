import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { client, unwrap, type Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Pick } from "../../ui/Pick";
import { ErrorBox, Loading } from "../../ui/states";
import { wrongAt, WrongElsewhere } from "../../ui/wrong";

const KEY = ["tokens"] as const;
const BLANK = { name: "", scope: "records", days: "90", password: "" };

/** Tokens by which scripts ask in one's name: made with a password, ended at any time. */
export function ScriptsPanel() {
  const tokens = useQuery({
    queryKey: KEY,
    queryFn: ({ signal }) => unwrap(client.GET("/api/v1/tokens", { signal })),
  });
  if (tokens.isPending) return <Loading what="the tokens" />;
  if (tokens.isError)
    return <ErrorBox error={tokens.error} onRetry={() => void tokens.refetch()} />;
  return (
    <div className="grid items-start gap-5 lg:grid-cols-2">
      <NewToken scopes={tokens.data.scopes} />
      <Good tokens={tokens.data} />
    </div>
  );
}

function NewToken({ scopes }: { scopes: Schemas["ScopeOut"][] }) {
  const queries = useQueryClient();
  const [said, setSaid] = useState(BLANK);
  const make = useMutation({
    mutationFn: () =>
      unwrap(client.POST("/api/v1/tokens", { body: { ...said, days: Number(said.days) || 0 } })),
    onSuccess: () => {
      setSaid(BLANK);
      return queries.invalidateQueries({ queryKey: KEY });
    },
  });
  const fill = (more: Partial<typeof BLANK>) => setSaid({ ...said, ...more });
  return (
    <form
      aria-label="New token"
      className="grid gap-3 rounded-2xl border border-line bg-card p-5"
      onSubmit={(event) => {
        event.preventDefault();
        make.mutate();
      }}
    >
      <h2 className="font-semibold">A token for a script</h2>
      <Field
        label="What it is for"
        value={said.name}
        problem={wrongAt(make.error, "name")}
        onChange={(e) => fill({ name: e.target.value })}
      />
      <Pick
        label="It may"
        choices={scopes.map((s) => ({ value: s.id, label: s.label }))}
        value={said.scope}
        onChange={(e) => fill({ scope: e.target.value })}
      />
      <Field
        label="Good for"
        unit="days"
        inputMode="numeric"
        value={said.days}
        problem={wrongAt(make.error, "days")}
        onChange={(e) => fill({ days: e.target.value })}
      />
      <Field
        label="Your password"
        type="password"
        autoComplete="current-password"
        value={said.password}
        problem={wrongAt(make.error, "password")}
        onChange={(e) => fill({ password: e.target.value })}
      />
      <WrongElsewhere error={make.error} fields={["name", "days", "password"]} />
      <Button look="main" type="submit" disabled={make.isPending}>
        Make it
      </Button>
      {make.data && (
        <p role="status" className="rounded-lg bg-sunk px-3 py-2 text-[14px] break-all">
          <span className="block text-muted">Shown only now:</span>
          {make.data.token}
        </p>
      )}
    </form>
  );
}

function Good({ tokens }: { tokens: Schemas["TokensOut"] }) {
  const queries = useQueryClient();
  const end = useMutation({
    mutationFn: (id: number) =>
      unwrap(client.DELETE("/api/v1/tokens/{id}", { params: { path: { id } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: KEY }),
  });
  const words = Object.fromEntries(tokens.scopes.map((s) => [s.id, s.label]));
  return (
    <section aria-label="Good now" className="rounded-2xl border border-line bg-card p-5">
      <h2 className="mb-2 font-semibold">Good now</h2>
      {tokens.tokens.length === 0 && <p className="text-muted">There is none.</p>}
      <ul>
        {tokens.tokens.map((t) => (
          <li
            key={t.id}
            className="flex items-center gap-3 border-t border-line py-2 first:border-t-0"
          >
            <span className="min-w-0">
              <strong>{t.name}</strong>
              <span className="block text-[14px] text-muted">
                {t.person}, until <span className="digits">{t.expires_at.slice(0, 10)}</span>: may{" "}
                {words[t.scope]}
              </span>
            </span>
            <Button
              className="ml-auto"
              aria-label={`End ${t.name}`}
              disabled={end.isPending}
              onClick={() => end.mutate(t.id)}
            >
              End
            </Button>
          </li>
        ))}
      </ul>
      <WrongElsewhere error={end.error} fields={[]} />
    </section>
  );
}
