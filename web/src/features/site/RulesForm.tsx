import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Pick } from "../../ui/Pick";
import { ErrorBox } from "../../ui/states";
import { wrongAt, WrongElsewhere } from "../../ui/wrong";
import { NO_PROOF, PROOF, ProofFields } from "./ProofFields";
import { rulesQuery, useChangeRules } from "./api";

const LINKS_BY = [
  { value: "one", label: "a planner or an administrator" },
  { value: "administrator", label: "an administrator" },
  { value: "two", label: "two people together" },
];

/** What the site asks of ways into accounts. */
export function RulesForm({ roles }: { roles: string[] }) {
  const rules = useQuery(rulesQuery);
  if (rules.isPending) return null;
  if (rules.isError) return <ErrorBox error={rules.error} onRetry={() => void rules.refetch()} />;
  return <Form key={rules.data.version} rules={rules.data} roles={roles} />;
}

function Form({ rules, roles }: { rules: Schemas["RulesOut"]; roles: string[] }) {
  const change = useChangeRules();
  const [said, setSaid] = useState({
    links_by: rules.links_by,
    reset_days: String(rules.reset_days),
    pin: rules.pin,
    factor_roles: rules.factor_roles,
  });
  const [proof, setProof] = useState(NO_PROOF);
  const set = (more: Partial<typeof said>) => setSaid({ ...said, ...more });
  return (
    <form
      aria-label="Rules of the sign-in"
      className="grid gap-3 rounded-2xl border border-line bg-card p-5"
      onSubmit={(event) => {
        event.preventDefault();
        change.mutate({
          ...said,
          ...proof,
          reset_days: Number(said.reset_days.trim() || NaN),
          version: rules.version,
        });
      }}
    >
      <h2 className="font-semibold">Rules of the sign-in</h2>
      <Pick
        label="Links for others are made by"
        choices={LINKS_BY}
        value={said.links_by}
        problem={wrongAt(change.error, "links_by")}
        onChange={(e) => set({ links_by: e.target.value })}
      />
      <Field
        label="Signatures say that others opened the account, for"
        unit="days"
        inputMode="numeric"
        value={said.reset_days}
        problem={wrongAt(change.error, "reset_days")}
        onChange={(e) => set({ reset_days: e.target.value })}
      />
      <label className="flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          className="size-5 shrink-0"
          checked={said.pin}
          onChange={(e) => set({ pin: e.target.checked })}
        />
        A PIN signs and takes locks off, on known devices
      </label>
      <fieldset className="grid gap-1">
        <legend className="mb-1 text-[14px] text-muted">Roles that need a second factor</legend>
        {roles.map((role) => (
          <label key={role} className="flex min-h-11 items-center gap-3">
            <input
              type="checkbox"
              className="size-5 shrink-0"
              checked={said.factor_roles.includes(role)}
              onChange={(e) =>
                set({
                  factor_roles: e.target.checked
                    ? [...said.factor_roles, role]
                    : said.factor_roles.filter((r) => r !== role),
                })
              }
            />
            {role}
          </label>
        ))}
      </fieldset>
      <ProofFields
        proof={proof}
        two={rules.links_by === "two"}
        error={change.error}
        onChange={setProof}
      />
      <WrongElsewhere error={change.error} fields={["links_by", "reset_days", ...PROOF]} />
      <Button type="submit" disabled={change.isPending}>
        Store the rules
      </Button>
    </form>
  );
}
