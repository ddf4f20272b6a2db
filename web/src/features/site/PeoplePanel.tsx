import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { here } from "../../api/release";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Pick } from "../../ui/Pick";
import { ErrorBox, Loading } from "../../ui/states";
import { wrongAt, WrongElsewhere } from "../../ui/wrong";
import { peopleQuery, useChangePerson, useInvite, useNewLink, type Person } from "./api";

const NOBODY = { username: "", first_name: "", last_name: "", email: "", role: "technician" };

/** Who may sign in and as what. */
export function PeoplePanel() {
  const people = useQuery(peopleQuery);
  const [link, setLink] = useState({ name: "", path: "" });
  if (people.isPending) return <Loading what="the people" />;
  if (people.isError)
    return <ErrorBox error={people.error} onRetry={() => void people.refetch()} />;
  return (
    <div className="grid items-start gap-5 lg:grid-cols-[1fr_340px]">
      <ul className="overflow-hidden rounded-2xl border border-line bg-card">
        {people.data.people.map((p) => (
          <Line key={p.username} person={p} roles={people.data.roles} onLink={setLink} />
        ))}
      </ul>
      <div className="grid gap-5">
        {link.path && <LinkBox {...link} />}
        <Invite roles={people.data.roles} onLink={setLink} />
      </div>
    </div>
  );
}

type LineProps = {
  person: Person;
  roles: string[];
  onLink: (link: { name: string; path: string }) => void;
};

function Line({ person, roles, onLink }: LineProps) {
  const change = useChangePerson();
  const again = useNewLink();
  const send = (more: Partial<Person>) => change.mutate({ ...person, ...more });
  return (
    <li className="grid items-center gap-x-4 gap-y-2 border-t border-line px-4 py-3 first:border-t-0 sm:grid-cols-[1fr_150px_auto]">
      <span className={person.active ? "" : "text-muted"}>
        <strong>{person.name}</strong>{" "}
        <span className="text-[14px] text-muted">
          {person.username}
          {!person.active && " · ended"}
          {person.active && !person.ready && " · has not set a password yet"}
          {person.last_seen && ` · last here ${person.last_seen}`}
        </span>
      </span>
      <select
        aria-label={`Role of ${person.name}`}
        className="min-h-11 rounded-[10px] border border-line bg-card px-2"
        value={person.role}
        disabled={!person.active || change.isPending}
        onChange={(e) => send({ role: e.target.value })}
      >
        {roles.map((role) => (
          <option key={role}>{role}</option>
        ))}
      </select>
      <span className="flex flex-wrap gap-2">
        {person.active && (
          <Button
            disabled={again.isPending}
            onClick={() =>
              again.mutate(person.username, {
                onSuccess: (made) => onLink({ name: person.name, path: made.path }),
              })
            }
          >
            New link
          </Button>
        )}
        <Button disabled={change.isPending} onClick={() => send({ active: !person.active })}>
          {person.active ? "End" : "Begin again"}
        </Button>
      </span>
      {(change.error ?? again.error) && (
        <div className="sm:col-span-3">
          <WrongElsewhere error={change.error ?? again.error} fields={[]} />
        </div>
      )}
    </li>
  );
}

/** The link is shown once; it is given to its person and to nobody else. */
function LinkBox({ name, path }: { name: string; path: string }) {
  const link = here(path);
  const [copied, setCopied] = useState(false);
  return (
    <section aria-label="Link" className="rounded-2xl border-2 border-accent bg-card p-5">
      <h2 className="mb-1 font-semibold">A link for {name}</h2>
      <p className="mb-3 text-[14px] text-muted">
        It works once, for a week, and is shown only now. Give it to {name} and to nobody else.
      </p>
      <p className="mb-3 rounded-lg bg-sunk px-3 py-2 text-[14px] break-all">{link}</p>
      <Button
        onClick={() =>
          void navigator.clipboard.writeText(link).then(
            () => setCopied(true),
            () => setCopied(false),
          )
        }
      >
        {copied ? "Copied" : "Copy it"}
      </Button>
    </section>
  );
}

function Invite({ roles, onLink }: Omit<LineProps, "person">) {
  const [person, setPerson] = useState(NOBODY);
  const invite = useInvite();
  const set = (more: Partial<typeof NOBODY>) => setPerson({ ...person, ...more });
  const fields = ["first_name", "last_name", "username", "email"] as const;
  const labels = ["First name", "Last name", "Name to sign in with", "E-mail, may stay empty"];
  return (
    <form
      className="grid gap-3 rounded-2xl border border-line bg-card p-5"
      onSubmit={(event) => {
        event.preventDefault();
        invite.mutate(person, {
          onSuccess: (made) => {
            setPerson(NOBODY);
            onLink({ name: made.person.name, path: made.path });
          },
        });
      }}
    >
      <h2 className="font-semibold">Invite somebody</h2>
      {fields.map((name, n) => (
        <Field
          key={name}
          label={labels[n] ?? ""}
          value={person[name]}
          problem={wrongAt(invite.error, name)}
          onChange={(e) => set({ [name]: e.target.value })}
        />
      ))}
      <Pick
        label="Role"
        choices={roles}
        value={person.role}
        problem={wrongAt(invite.error, "role")}
        onChange={(e) => set({ role: e.target.value })}
      />
      <WrongElsewhere error={invite.error} fields={[...fields, "role"]} />
      <Button look="main" type="submit" disabled={invite.isPending}>
        Invite
      </Button>
    </form>
  );
}
