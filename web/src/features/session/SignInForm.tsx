import { useMutation, useQuery } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { ApiError, client, setCsrfToken, unwrap, type Schemas } from "../../api/client";
import { sessionQuery } from "../../api/session";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { canPasskeys, withPasskey } from "../../ui/passkey";

type Props = {
  /** Who is expected; anybody where it is empty. */
  as?: string;
  onSignedIn: (session: Schemas["SessionOut"]) => void;
};

/** Name and password; the name stands already where one person is expected. */
export function SignInForm({ as = "", onSignedIn }: Props) {
  const [username, setUsername] = useState(as);
  const [password, setPassword] = useState("");
  const [code, setCode] = useState("");
  const session = useQuery(sessionQuery);
  const signedIn = (session: Schemas["SessionOut"]) => {
    setCsrfToken(session.csrf_token);
    onSignedIn(session);
  };
  const signIn = useMutation({
    mutationFn: async () => {
      // The token of before may have ended with its session.
      const fresh = await unwrap(client.GET("/api/v1/session"));
      setCsrfToken(fresh.csrf_token);
      return unwrap(client.POST("/api/v1/session", { body: { username, password, code } }));
    },
    onSuccess: signedIn,
  });
  const byPasskey = useMutation({
    mutationFn: async () => {
      const fresh = await unwrap(client.GET("/api/v1/session"));
      setCsrfToken(fresh.csrf_token);
      const credential = await withPasskey();
      return unwrap(client.POST("/api/v1/ways-in/passkey", { body: { credential } }));
    },
    onSuccess: signedIn,
  });
  const problem = signIn.error instanceof ApiError ? signIn.error.problem : null;
  const asked = problem?.field === "code";
  const submit = (event: FormEvent) => {
    event.preventDefault();
    signIn.mutate();
  };
  return (
    <form onSubmit={submit}>
      <Field
        label="Name"
        autoFocus={!as}
        autoComplete="username"
        value={username}
        readOnly={Boolean(as)}
        onChange={(e) => setUsername(e.target.value)}
      />
      <Field
        className="mt-3"
        label="Password"
        type="password"
        autoFocus={Boolean(as)}
        autoComplete="current-password"
        value={password}
        problem={asked ? null : problem}
        onChange={(e) => setPassword(e.target.value)}
      />
      {(asked || code) && (
        <Field
          className="mt-3"
          label="Code of your app, or a recovery code"
          autoFocus
          autoComplete="one-time-code"
          value={code}
          problem={asked ? problem : null}
          onChange={(e) => setCode(e.target.value)}
        />
      )}
      <Button look="main" type="submit" className="mt-5 w-full" disabled={signIn.isPending}>
        {signIn.isPending ? "Signing in …" : "Sign in"}
      </Button>
      {session.data?.passkeys && canPasskeys() && (
        <Button
          className="mt-3 w-full"
          disabled={byPasskey.isPending}
          onClick={() => byPasskey.mutate()}
        >
          Sign in by a passkey
        </Button>
      )}
      {byPasskey.isError && (
        <p role="alert" className="mt-2 text-[14px] text-outside">
          No passkey of this site was given. Try again, or use your password.
        </p>
      )}
    </form>
  );
}
