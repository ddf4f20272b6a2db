import { useMutation, useQueryClient } from "@tanstack/react-query";
import { client, unwrap } from "../api/client";
import { sessionQuery, type Me } from "../api/session";
import { Button } from "../ui/Button";

/** What somebody has not read yet of their own account: it stays until they have. */
export function Told({ user }: { user: Me }) {
  const queries = useQueryClient();
  const read = useMutation({
    mutationFn: () => unwrap(client.POST("/api/v1/ways-in/notices/read")),
    onSuccess: (session) => queries.setQueryData(sessionQuery.queryKey, session),
  });
  if (user.told.length === 0) return null;
  return (
    <section
      role="alert"
      className="m-4 grid gap-2 rounded-2xl border-2 border-outside bg-card p-4"
      aria-label="Your account"
    >
      <ul className="grid gap-1">
        {user.told.map((one) => (
          <li key={one}>{one}</li>
        ))}
      </ul>
      <p className="text-muted">
        If you did not ask for it, tell whoever leads the site, and take another password.
      </p>
      <Button
        className="justify-self-start"
        disabled={read.isPending}
        onClick={() => read.mutate()}
      >
        I have read it
      </Button>
      {read.isError && <p className="text-outside">The server does not answer: it stays here.</p>}
    </section>
  );
}
