import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { client, setCsrfToken, unwrap } from "../../api/client";
import { sessionQuery } from "../../api/session";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Loading } from "../../ui/states";
import { wrongAt, WrongElsewhere } from "../../ui/wrong";

/** Where a link leads that sets a password once. */
export default function WelcomePage({ token }: { token: string }) {
  const queries = useQueryClient();
  const [password, setPassword] = useState("");
  const path = { params: { path: { token } } };
  const link = useQuery({
    queryKey: ["welcome", token],
    queryFn: () => unwrap(client.GET("/api/v1/people/welcome/{token}", path)),
    retry: false,
  });
  const accept = useMutation({
    mutationFn: async () => {
      const fresh = await unwrap(client.GET("/api/v1/session"));
      setCsrfToken(fresh.csrf_token);
      return unwrap(client.POST("/api/v1/people/welcome/{token}", { ...path, body: { password } }));
    },
    onSuccess: (session) => {
      window.history.replaceState(null, "", "/");
      setCsrfToken(session.csrf_token);
      queries.setQueryData(sessionQuery.queryKey, session);
    },
  });
  if (link.isPending) return <Loading what="the invitation" />;
  return (
    <main className="grid min-h-full place-items-center p-6">
      <div className="w-full max-w-md rounded-2xl border border-line bg-card p-6">
        {link.isError ? (
          <>
            <h1 className="mb-2 text-xl font-semibold">Not to be used any more</h1>
            <WrongElsewhere error={link.error} fields={[]} />
            <a href="./" className="mt-4 inline-flex min-h-11 items-center underline">
              Sign in
            </a>
          </>
        ) : (
          <form
            onSubmit={(event) => {
              event.preventDefault();
              accept.mutate();
            }}
          >
            <h1 className="mb-1 text-xl font-semibold">Welcome, {link.data.name}</h1>
            <p className="mb-4 text-muted">
              You sign in as <strong className="text-ink">{link.data.username}</strong>. Your
              password signs your work: nobody else knows it.
            </p>
            <input type="hidden" autoComplete="username" value={link.data.username} readOnly />
            <Field
              label="Password, ten characters or more"
              type="password"
              autoFocus
              autoComplete="new-password"
              value={password}
              problem={wrongAt(accept.error, "password")}
              onChange={(e) => setPassword(e.target.value)}
            />
            <WrongElsewhere error={accept.error} fields={["password"]} />
            <Button look="main" type="submit" className="mt-5 w-full" disabled={accept.isPending}>
              Set it and sign in
            </Button>
          </form>
        )}
      </div>
    </main>
  );
}
