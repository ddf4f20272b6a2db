import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { client, unwrap, type Schemas } from "../api/client";
import { sessionQuery, type Me } from "../api/session";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { wrongAt, WrongElsewhere } from "../ui/wrong";

/** What somebody must know before anything else: it stays until they have said that they do. */
export default function Told({ user }: { user: Me }) {
  return (
    <>
      {user.bare && (
        <Box title="Your role needs a second factor here">
          <p>
            Add a passkey or an app that shows codes at{" "}
            <Link className="underline" to="/site?show=password">
              Site, My sign-in
            </Link>
            . Until then you can look at everything and change nothing.
          </p>
        </Box>
      )}
      {user.told.length > 0 && <OwnAccount told={user.told} />}
      {user.set_back.length > 0 && <SetBack wrong={user.set_back} />}
      {user.restores.map((one) => (
        <Restored key={one.line} restore={one} />
      ))}
    </>
  );
}

function Box({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <section
      role="alert"
      className="m-4 grid gap-1 rounded-2xl border-2 border-outside bg-card px-4 py-3"
      aria-label={title}
    >
      <h2 className="font-semibold">{title}</h2>
      {children}
    </section>
  );
}

function Lines({ lines }: { lines: string[] }) {
  return (
    <ul className="grid max-h-48 gap-1 overflow-auto">
      {lines.map((one) => (
        <li key={one}>{one}</li>
      ))}
    </ul>
  );
}

function OwnAccount({ told }: { told: string[] }) {
  const queries = useQueryClient();
  const read = useMutation({
    mutationFn: () => unwrap(client.POST("/api/v1/ways-in/notices/read")),
    onSuccess: (session) => queries.setQueryData(sessionQuery.queryKey, session),
  });
  return (
    <Box title="Your account">
      <div className="grid items-center gap-x-4 gap-y-2 sm:grid-cols-[1fr_auto]">
        <div>
          <Lines lines={told} />
          <p className="text-muted">
            If you did not ask for it, tell whoever leads the site, and take another password.
          </p>
        </div>
        <Button disabled={read.isPending} onClick={() => read.mutate()}>
          I have read it
        </Button>
      </div>
      <WrongElsewhere error={read.error} fields={[]} />
    </Box>
  );
}

function SetBack({ wrong }: { wrong: string[] }) {
  return (
    <Box title="Records were set back">
      <Lines lines={wrong} />
      <p className="text-muted">
        Heads that left this machine say that the records had come further, and no restore accounts
        for it. Stop the work, keep the disk as it is, and tell who looks after the server.
      </p>
    </Box>
  );
}

function Restored({ restore }: { restore: Schemas["RestoreOut"] }) {
  const queries = useQueryClient();
  const [own, setOwn] = useState("");
  const know = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST("/api/v1/site/restores/{id}", {
          params: { path: { id: restore.line } },
          body: { own },
        }),
      ),
    onSuccess: (session) => queries.setQueryData(sessionQuery.queryKey, session),
  });
  return (
    <Box title={`Restored on ${restore.at} from ${restore.source}`}>
      {restore.lost.length > 0 ? (
        <>
          <p>What is lost by it, as the heads outside say:</p>
          <Lines lines={restore.lost} />
        </>
      ) : (
        <p>No head outside says what is lost. Ask who worked since that copy was made.</p>
      )}
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          know.mutate();
        }}
      >
        <Field
          label="Your own password"
          type="password"
          autoComplete="current-password"
          value={own}
          problem={wrongAt(know.error, "own")}
          onChange={(e) => setOwn(e.target.value)}
        />
        <Button type="submit" disabled={know.isPending}>
          I know of it
        </Button>
      </form>
      <WrongElsewhere error={know.error} fields={["own"]} />
    </Box>
  );
}
