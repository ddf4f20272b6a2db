import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { here } from "../../api/release";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Modal } from "../../ui/Modal";
import { Pick as Choice } from "../../ui/Pick";
import { ErrorBox, Loading } from "../../ui/states";
import { wrongAt, WrongElsewhere } from "../../ui/wrong";
import { NO_PROOF, PROOF, ProofFields } from "./ProofFields";
import { RulesForm } from "./RulesForm";
import {
  peopleQuery,
  useChangePerson,
  useEndFactors,
  useInvite,
  useLift,
  useNewLink,
  type Person,
} from "./api";

const NOBODY = { username: "", first_name: "", last_name: "", email: "", role: "technician" };

/** Who may sign in and as what. */
export function PeoplePanel({ me }: { me: string }) {
  const people = useQuery(peopleQuery);
  const [link, setLink] = useState({ name: "", path: "" });
  if (people.isPending) return <Loading what="the people" />;
  if (people.isError)
    return <ErrorBox error={people.error} onRetry={() => void people.refetch()} />;
  return (
    <div className="grid items-start gap-5 lg:grid-cols-[1fr_340px]">
      <div className="grid gap-5">
        <ul className="overflow-hidden rounded-2xl border border-line bg-card">
          {people.data.people.map((p) => (
            <Line
              key={p.username}
              person={p}
              roles={people.data.roles}
              two={people.data.two}
              own={p.username === me}
              onLink={setLink}
            />
          ))}
        </ul>
        <RulesForm roles={people.data.roles} />
      </div>
      <div className="grid gap-5">
        {link.path && <LinkBox {...link} />}
        <Invite roles={people.data.roles} two={people.data.two} onLink={setLink} />
      </div>
    </div>
  );
}

type LineProps = {
  person: Person;
  /** the person signed in: nobody opens a way in for themselves */
  own: boolean;
  roles: string[];
  /** two people make a link */
  two: boolean;
  onLink: (link: { name: string; path: string }) => void;
};

function Line({ person, roles, two, own, onLink }: LineProps) {
  const change = useChangePerson();
  const lift = useLift();
  const [asked, setAsked] = useState<"" | "link" | "address" | "factors">("");
  const send = (more: Partial<Person>) => change.mutate({ ...person, own: "", ...more });
  return (
    <li className="grid items-center gap-x-4 gap-y-2 border-t border-line px-4 py-3 first:border-t-0 sm:grid-cols-[1fr_150px_auto]">
      <span className={person.active ? "" : "text-muted"}>
        <strong>{person.name}</strong>{" "}
        <span className="text-[14px] text-muted">
          {person.username}
          {person.email && ` · ${person.email}`}
          {!person.active && " · ended"}
          {person.locked && " · locked after wrong passwords"}
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
        {person.locked && (
          <Button
            look="main"
            disabled={lift.isPending}
            onClick={() => lift.mutate(person.username)}
          >
            Lift the lock
          </Button>
        )}
        {person.active && !own && <Button onClick={() => setAsked("link")}>New link</Button>}
        <Button onClick={() => setAsked("address")}>Address</Button>
        {person.factor && !own && <Button onClick={() => setAsked("factors")}>Lost device</Button>}
        <Button disabled={change.isPending} onClick={() => send({ active: !person.active })}>
          {person.active ? "End" : "Begin again"}
        </Button>
      </span>
      {(change.error ?? lift.error) && !asked && (
        <div className="sm:col-span-3">
          <WrongElsewhere error={change.error ?? lift.error} fields={[]} />
        </div>
      )}
      <Modal
        open={asked !== ""}
        title={TITLES[asked || "link"] + person.name}
        onClose={() => setAsked("")}
      >
        {asked === "link" ? (
          <AskLink person={person} two={two} onLink={onLink} onDone={() => setAsked("")} />
        ) : asked === "factors" ? (
          <AskFactors person={person} two={two} onDone={() => setAsked("")} />
        ) : (
          <AskAddress person={person} onDone={() => setAsked("")} />
        )}
      </Modal>
    </li>
  );
}

const TITLES = {
  link: "A new link for ",
  address: "Address of ",
  factors: "Second factors of ",
};

type Asked = { person: Person; onDone: () => void };

/** Whoever has the link has the account: who makes one says who they are. */
function AskLink({ person, two, onLink, onDone }: Asked & Pick<LineProps, "two" | "onLink">) {
  const make = useNewLink();
  const [proof, setProof] = useState(NO_PROOF);
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        make.mutate(
          { username: person.username, ...proof },
          {
            onSuccess: (made) => {
              onLink({ name: person.name, path: made.path });
              onDone();
            },
          },
        );
      }}
    >
      <p className="text-[15px] text-muted">
        Whoever opens it sets a new password and signs as {person.name}. {person.name} is told, and
        signatures of the next days say that you made it.
      </p>
      <ProofFields proof={proof} two={two} error={make.error} onChange={setProof} />
      <WrongElsewhere error={make.error} fields={PROOF} />
      <Button look="main" type="submit" disabled={make.isPending}>
        Make the link
      </Button>
    </form>
  );
}

/** Who lost the device of their second factor gets in by the password alone, and is told. */
function AskFactors({ person, two, onDone }: Asked & Pick<LineProps, "two">) {
  const end = useEndFactors();
  const [proof, setProof] = useState(NO_PROOF);
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        end.mutate({ username: person.username, ...proof }, { onSuccess: onDone });
      }}
    >
      <p className="text-[15px] text-muted">
        App, passkeys, recovery codes and PIN of {person.name} end. {person.name} is told, and
        signatures of the next days say that you did it.
      </p>
      <ProofFields proof={proof} two={two} error={end.error} onChange={setProof} />
      <WrongElsewhere error={end.error} fields={PROOF} />
      <Button look="main" type="submit" disabled={end.isPending}>
        End them
      </Button>
    </form>
  );
}

function AskAddress({ person, onDone }: Asked) {
  const change = useChangePerson();
  const [said, setSaid] = useState({ email: person.email, own: "" });
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        change.mutate({ ...person, ...said }, { onSuccess: onDone });
      }}
    >
      <Field
        label="E-mail, may stay empty"
        value={said.email}
        problem={wrongAt(change.error, "email")}
        onChange={(e) => setSaid({ ...said, email: e.target.value })}
      />
      <Field
        label="Your own password"
        type="password"
        autoComplete="current-password"
        value={said.own}
        problem={wrongAt(change.error, "own")}
        onChange={(e) => setSaid({ ...said, own: e.target.value })}
      />
      <WrongElsewhere error={change.error} fields={["email", "own"]} />
      <Button look="main" type="submit" disabled={change.isPending}>
        Store
      </Button>
    </form>
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

function Invite({ roles, two, onLink }: Omit<LineProps, "person" | "own">) {
  const [person, setPerson] = useState(NOBODY);
  const [proof, setProof] = useState(NO_PROOF);
  const invite = useInvite();
  const set = (more: Partial<typeof NOBODY>) => setPerson({ ...person, ...more });
  const fields = ["first_name", "last_name", "username", "email"] as const;
  const labels = ["First name", "Last name", "Name to sign in with", "E-mail, may stay empty"];
  return (
    <form
      aria-label="Invite somebody"
      className="grid gap-3 rounded-2xl border border-line bg-card p-5"
      onSubmit={(event) => {
        event.preventDefault();
        invite.mutate(
          { ...person, ...proof },
          {
            onSuccess: (made) => {
              setPerson(NOBODY);
              setProof(NO_PROOF);
              onLink({ name: made.person.name, path: made.path });
            },
          },
        );
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
      <Choice
        label="Role"
        choices={roles}
        value={person.role}
        problem={wrongAt(invite.error, "role")}
        onChange={(e) => set({ role: e.target.value })}
      />
      <ProofFields proof={proof} two={two} error={invite.error} onChange={setProof} />
      <WrongElsewhere error={invite.error} fields={[...fields, "role", ...PROOF]} />
      <Button look="main" type="submit" disabled={invite.isPending}>
        Invite
      </Button>
    </form>
  );
}
