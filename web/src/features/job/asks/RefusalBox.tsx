import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { Field } from "../../../ui/Field";
import type { Writer } from "../useWriter";
import { problemAt } from "./types";

type Props = { writer: Writer; refusal: Schemas["Refusal"]; unit: string };

type Way = "second_person" | "other_cylinder" | "checks";
const OWN: Record<Way, string[]> = {
  second_person: ["username", "password"],
  other_cylinder: ["asset", "reading"],
  checks: ["label", "until", "flow_seen"],
};

/** What is refused stays refused, unless a reason and what the site demands stand for it. */
export function RefusalBox({ writer, refusal, unit }: Props) {
  const [forcing, setForcing] = useState(false);
  const [way, setWay] = useState<Way>(refusal.checks ? "checks" : "second_person");
  const [values, setValues] = useState<Record<string, string>>({});
  const field = (name: string, label: string, more: { type?: string; unit?: string } = {}) => (
    <Field
      label={label}
      value={values[name] ?? ""}
      problem={problemAt(writer, `data.${name}`)}
      onChange={(e) => setValues({ ...values, [name]: e.target.value })}
      {...more}
    />
  );
  const agree = () => {
    const data = Object.fromEntries(OWN[way].map((name) => [name, values[name] ?? ""]));
    void writer.send(
      [
        {
          kind: refusal.kind,
          data: { step: refusal.step, way, reason: values.reason ?? "", ...data },
        },
      ],
      // Given as a password, so that nothing of it is kept on this device.
      way === "second_person" ? "second" : "",
    );
  };
  return (
    <div role="alert" className="rounded-xl border-2 border-outside p-3">
      <p className="font-semibold">
        {refusal.again ? "" : "Not to be set: "}
        {refusal.refused}
      </p>
      <p className="mt-1 text-[14.5px]">{refusal.advice}</p>
      {refusal.may_force && !forcing && (
        <Button look="quiet" className="mt-1 text-[15px]" onClick={() => setForcing(true)}>
          Force it all the same
        </Button>
      )}
      {forcing && (
        <form
          className="mt-2 grid gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            agree();
          }}
        >
          <p className="text-[14px]">
            Forcing is printed on the certificate. It takes a reason, and a second person
            {refusal.checks ? ", " : " or "}a check with another {refusal.other}
            {refusal.checks && " or, by rule of this site, a look at label, date and flow"}.
          </p>
          {field("reason", "Why is it forced?")}
          <div className="flex gap-2" role="group" aria-label="Who or what confirms it">
            {(
              [
                ["second_person", "Second person"],
                ["other_cylinder", `Other ${refusal.other}`],
                ...(refusal.checks ? ([["checks", "By checks"]] as const) : []),
              ] as const
            ).map(([id, label]) => (
              <button
                key={id}
                type="button"
                aria-pressed={way === id}
                onClick={() => setWay(id)}
                className="min-h-11 flex-1 rounded-lg border border-line px-2 aria-pressed:bg-ink aria-pressed:text-paper"
              >
                {label}
              </button>
            ))}
          </div>
          {way === "second_person" && (
            <>
              {field("username", "Second person, name")}
              {field("password", "Second person, password", { type: "password" })}
            </>
          )}
          {way === "other_cylinder" && (
            <>
              {field("asset", `Other ${refusal.other}`)}
              {field("reading", "It shows with it", { unit })}
            </>
          )}
          {way === "checks" && (
            <>
              {field("label", "Value on its label", { unit })}
              {field("until", "Good until, year-month-day")}
              {field("flow_seen", "Flow seen at the regulator, L/min")}
            </>
          )}
          <div className="flex gap-2">
            <Button type="submit" className="flex-1 font-semibold" disabled={writer.sending}>
              Agree to force
            </Button>
            <Button onClick={() => setForcing(false)}>Cancel</Button>
          </div>
        </form>
      )}
    </div>
  );
}
