import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { client, setCsrfToken, unwrap } from "../../api/client";
import { sessionQuery } from "../../api/session";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { wrongAt, WrongElsewhere } from "../../ui/wrong";
import { EMPTY_SITE, SITE_FIELDS, SiteFields } from "./SiteFields";

const NOBODY = { username: "", first_name: "", last_name: "", email: "", password: "" };
const PERSON = [
  ["first_name", "First name", "given-name"],
  ["last_name", "Last name", "family-name"],
  ["username", "Name to sign in with", "username"],
  ["password", "Password, ten characters or more", "new-password"],
] as const;

/** The first page of an empty plant: the site, and its first planner. */
export default function StartPage() {
  const queries = useQueryClient();
  const [key, setKey] = useState(new URLSearchParams(window.location.search).get("key") ?? "");
  const [site, setSite] = useState(EMPTY_SITE);
  const [person, setPerson] = useState(NOBODY);
  const start = useMutation({
    mutationFn: () => unwrap(client.POST("/api/v1/site/start", { body: { key, site, person } })),
    onSuccess: (session) => {
      window.history.replaceState(null, "", "/site?show=people");
      setCsrfToken(session.csrf_token);
      queries.setQueryData(sessionQuery.queryKey, session);
    },
  });
  const fields = ["key", ...SITE_FIELDS, ...PERSON.map(([name]) => name)];
  return (
    <main className="mx-auto max-w-[980px] px-5 py-8">
      <h1 className="text-[28px] leading-tight font-semibold">Start a plant of its own</h1>
      <p className="mt-1 mb-5 max-w-2xl text-muted">
        The site and its first planner. Everything else is set up afterwards, by form or from a
        list, and every change keeps who made it and when.
      </p>
      <form
        className="grid gap-5"
        onSubmit={(event) => {
          event.preventDefault();
          start.mutate();
        }}
      >
        <fieldset className="rounded-2xl border border-line bg-card p-5">
          <legend className="px-1 text-lg font-semibold">The site</legend>
          <SiteFields site={site} error={start.error} onChange={setSite} />
        </fieldset>
        <fieldset className="rounded-2xl border border-line bg-card p-5">
          <legend className="px-1 text-lg font-semibold">Its first planner</legend>
          <div className="grid gap-x-5 gap-y-3 sm:grid-cols-2">
            {PERSON.map(([name, label, complete]) => (
              <Field
                key={name}
                label={label}
                type={name === "password" ? "password" : "text"}
                autoComplete={complete}
                value={person[name]}
                problem={wrongAt(start.error, name)}
                onChange={(e) => setPerson({ ...person, [name]: e.target.value })}
              />
            ))}
            <Field
              label="Key of the first start"
              hint="It stands in the window in which the server was started."
              value={key}
              problem={wrongAt(start.error, "key")}
              onChange={(e) => setKey(e.target.value)}
            />
          </div>
        </fieldset>
        <WrongElsewhere error={start.error} fields={fields} />
        <Button look="main" type="submit" className="justify-self-start" disabled={start.isPending}>
          Make the site
        </Button>
      </form>
    </main>
  );
}
