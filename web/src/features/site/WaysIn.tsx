import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { client, unwrap, type Schemas } from "../../api/client";
import { sessionQuery } from "../../api/session";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { canPasskeys, makePasskey, provenByPasskey } from "../../ui/passkey";
import { ErrorBox, Loading } from "../../ui/states";
import { wrongAt, WrongElsewhere } from "../../ui/wrong";
import { waysInQuery } from "./api";

const NOTHING = { own: "", code: "" };
type Whole = typeof NOTHING;

/** One's own second factors and PIN; each change takes the password and the factor there is. */
export function WaysIn() {
  const mine = useQuery(waysInQuery);
  const [codes, setCodes] = useState<string[]>([]);
  if (mine.isPending) return <Loading what="your sign-in" />;
  if (mine.isError) return <ErrorBox error={mine.error} onRetry={() => void mine.refetch()} />;
  return (
    <div className="grid content-start gap-5">
      {mine.data.reset && (
        <p className="rounded-2xl border border-line bg-card p-4">Last reset, {mine.data.reset}</p>
      )}
      {codes.length > 0 && <Paper codes={codes} onDone={() => setCodes([])} />}
      <Factors mine={mine.data} onCodes={setCodes} />
      {mine.data.pin_allowed && <PinForm mine={mine.data} />}
    </div>
  );
}

/** Recovery codes are shown once: on paper they help who lost a device. */
function Paper({ codes, onDone }: { codes: string[]; onDone: () => void }) {
  return (
    <section aria-label="Recovery codes" className="rounded-2xl border-2 border-accent bg-card p-5">
      <h2 className="mb-1 font-semibold">Recovery codes</h2>
      <p className="mb-3 text-[14px] text-muted">
        Write them on paper and keep it apart from your device. Each is good once, and they are
        shown only now.
      </p>
      <ul className="digits mb-3 grid grid-cols-2 gap-x-6 gap-y-1 sm:max-w-xs">
        {codes.map((code) => (
          <li key={code}>{code}</li>
        ))}
      </ul>
      <Button onClick={onDone}>They are on paper</Button>
    </section>
  );
}

type FactorProps = { mine: Schemas["MineOut"]; onCodes: (codes: string[]) => void };

function Factors({ mine, onCodes }: FactorProps) {
  const queries = useQueryClient();
  const has = mine.app || mine.passkeys.length > 0;
  const [proof, setProof] = useState<Whole>(NOTHING);
  const [app, setApp] = useState<Schemas["AppOut"] | null>(null);
  const done = (codes?: string[]) => {
    setProof(NOTHING);
    setApp(null);
    if (codes?.length) onCodes(codes);
    void queries.invalidateQueries({ queryKey: waysInQuery.queryKey });
    void queries.invalidateQueries({ queryKey: sessionQuery.queryKey });
  };
  const begin = useMutation({
    mutationFn: () => unwrap(client.POST("/api/v1/ways-in/app", { body: proof })),
    onSuccess: setApp,
  });
  const passkey = useMutation({
    mutationFn: async () => {
      const { options } = await unwrap(
        client.POST("/api/v1/ways-in/passkeys/options", { body: proof }),
      );
      const credential = await makePasskey(options);
      const name = new Date().toLocaleDateString("en-GB", { dateStyle: "medium" });
      return unwrap(
        client.POST("/api/v1/ways-in/passkeys", {
          body: { credential, name: `Passkey of ${name}` },
        }),
      );
    },
    onSuccess: ({ codes }) => done(codes),
  });
  const recovery = useMutation({
    mutationFn: () => unwrap(client.POST("/api/v1/ways-in/recovery", { body: proof })),
    onSuccess: ({ codes }) => done(codes),
  });
  const end = useMutation({
    mutationFn: () => unwrap(client.POST("/api/v1/ways-in/end", { body: proof })),
    onSuccess: () => done(),
  });
  const busy = [begin, passkey, recovery, end].some((m) => m.isPending);
  const error = begin.error ?? passkey.error ?? recovery.error ?? end.error;
  const run = (one: { mutate: () => void }) => () => {
    for (const other of [begin, passkey, recovery, end]) other.reset();
    one.mutate();
  };
  return (
    <section
      aria-label="Second factor"
      className="grid gap-3 rounded-2xl border border-line bg-card p-5"
    >
      <h2 className="font-semibold">Second factor</h2>
      <ul className="grid gap-1 text-[15px]">
        <li>{mine.app ? "An app that shows codes" : "No app that shows codes"}</li>
        {mine.passkeys.map((key) => (
          <li key={key.id}>{key.name}</li>
        ))}
        {mine.passkeys.length === 0 && <li>No passkey</li>}
        {has && <li>{mine.recovery_left} recovery codes left</li>}
      </ul>
      {app ? (
        <FirstCode app={app} onDone={done} />
      ) : (
        <>
          <ProofOfAll
            has={has}
            byKey={mine.passkeys.length > 0}
            proof={proof}
            error={error}
            onChange={setProof}
          />
          <WrongElsewhere error={error} fields={["own", "code"]} />
          <div className="flex flex-wrap gap-2">
            <Button look="main" disabled={busy} onClick={run(begin)}>
              {mine.app ? "Another app" : "Add an app"}
            </Button>
            {mine.passkeys_here && canPasskeys() && (
              <Button disabled={busy} onClick={run(passkey)}>
                Add a passkey
              </Button>
            )}
            {has && (
              <>
                <Button disabled={busy} onClick={run(recovery)}>
                  New recovery codes
                </Button>
                <Button disabled={busy} onClick={run(end)}>
                  End all of them
                </Button>
              </>
            )}
          </div>
          {!mine.passkeys_here && (
            <p className="text-[14px] text-muted">
              Browsers use no passkeys at this address: they need the site&apos;s name and HTTPS.
            </p>
          )}
        </>
      )}
    </section>
  );
}

type ProofProps = {
  has: boolean;
  /** a passkey will do in place of a code */
  byKey: boolean;
  proof: Whole;
  error: Error | null;
  onChange: (proof: Whole) => void;
};

function ProofOfAll({ has, byKey, proof, error, onChange }: ProofProps) {
  return (
    <div className="grid gap-3 sm:grid-cols-2">
      <Field
        label="Your own password"
        type="password"
        autoComplete="current-password"
        value={proof.own}
        problem={wrongAt(error, "own")}
        onChange={(e) => onChange({ ...proof, own: e.target.value })}
      />
      {has && (
        <Field
          label="Code of your app, or a recovery code"
          autoComplete="one-time-code"
          value={proof.code}
          problem={wrongAt(error, "code")}
          onChange={(e) => onChange({ ...proof, code: e.target.value })}
        />
      )}
      {byKey && canPasskeys() && (
        <Button
          className="justify-self-start"
          onClick={() =>
            void provenByPasskey().then(
              (code) => onChange({ ...proof, code }),
              () => undefined,
            )
          }
        >
          By my passkey instead
        </Button>
      )}
    </div>
  );
}

function FirstCode({ app, onDone }: { app: Schemas["AppOut"]; onDone: (codes: string[]) => void }) {
  const [code, setCode] = useState("");
  const first = useMutation({
    mutationFn: () => unwrap(client.POST("/api/v1/ways-in/app/first", { body: { code } })),
    onSuccess: ({ codes }) => onDone(codes),
  });
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        first.mutate();
      }}
    >
      <p className="text-[15px]">Let your app read this, then type the code that it shows.</p>
      <img src={app.picture} alt="Code for the app" className="w-48 rounded-lg bg-white p-1" />
      <p className="digits text-[14px] break-all text-muted">{app.secret}</p>
      <Field
        label="Code that the app shows"
        inputMode="numeric"
        autoComplete="one-time-code"
        value={code}
        problem={wrongAt(first.error, "code")}
        onChange={(e) => setCode(e.target.value)}
      />
      <WrongElsewhere error={first.error} fields={["code"]} />
      <Button look="main" type="submit" disabled={first.isPending}>
        Take it into use
      </Button>
    </form>
  );
}

const PIN_WORDS = { none: "You have none.", good: "Yours is good.", dead: "Yours is dead." };

function PinForm({ mine }: { mine: Schemas["MineOut"] }) {
  const queries = useQueryClient();
  const has = mine.app || mine.passkeys.length > 0;
  const [proof, setProof] = useState<Whole>(NOTHING);
  const [pin, setPin] = useState("");
  const set = useMutation({
    mutationFn: () => unwrap(client.PUT("/api/v1/ways-in/pin", { body: { ...proof, pin } })),
    onSuccess: (now) => {
      setProof(NOTHING);
      setPin("");
      queries.setQueryData(waysInQuery.queryKey, now);
      void queries.invalidateQueries({ queryKey: sessionQuery.queryKey });
    },
  });
  return (
    <form
      aria-label="PIN"
      className="grid gap-3 rounded-2xl border border-line bg-card p-5"
      onSubmit={(event) => {
        event.preventDefault();
        set.mutate();
      }}
    >
      <h2 className="font-semibold">PIN for signatures and locks</h2>
      <p className="text-[14px] text-muted">
        It counts on devices on which you signed in, and is dead after five wrong ones.{" "}
        {PIN_WORDS[mine.pin as keyof typeof PIN_WORDS]}
      </p>
      <ProofOfAll
        has={has}
        byKey={mine.passkeys.length > 0}
        proof={proof}
        error={set.error}
        onChange={setProof}
      />
      <Field
        label="New PIN, 6 to 12 digits"
        type="password"
        inputMode="numeric"
        autoComplete="off"
        value={pin}
        problem={wrongAt(set.error, "pin")}
        onChange={(e) => setPin(e.target.value)}
      />
      <WrongElsewhere error={set.error} fields={["own", "code", "pin"]} />
      <Button type="submit" className="justify-self-start" disabled={set.isPending}>
        Set the PIN
      </Button>
    </form>
  );
}
