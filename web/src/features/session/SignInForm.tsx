import { useMutation } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { ApiError, client, setCsrfToken, unwrap, type Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";

type Props = {
  /** Who is expected; anybody where it is empty. */
  as?: string;
  onSignedIn: (session: Schemas["SessionOut"]) => void;
};

/** Name and password; the name stands already where one person is expected. */
export function SignInForm({ as = "", onSignedIn }: Props) {
  const [username, setUsername] = useState(as);
  const [password, setPassword] = useState("");
  const signIn = useMutation({
    mutationFn: async () => {
      // The token of before may have ended with its session.
      const fresh = await unwrap(client.GET("/api/v1/session"));
      setCsrfToken(fresh.csrf_token);
      return unwrap(client.POST("/api/v1/session", { body: { username, password } }));
    },
    onSuccess: (session) => {
      setCsrfToken(session.csrf_token);
      onSignedIn(session);
    },
  });
  const problem = signIn.error instanceof ApiError ? signIn.error.problem : null;
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
        problem={problem}
        onChange={(e) => setPassword(e.target.value)}
      />
      <Button look="main" type="submit" className="mt-5 w-full" disabled={signIn.isPending}>
        {signIn.isPending ? "Signing in …" : "Sign in"}
      </Button>
    </form>
  );
}
