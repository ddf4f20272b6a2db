import { useQuery, useQueryClient } from "@tanstack/react-query";
import { sessionQuery } from "../../api/session";
import { SignInForm } from "./SignInForm";

/** The way in. */
export default function SignInPage() {
  const queries = useQueryClient();
  const session = useQuery(sessionQuery);
  const refused = new URLSearchParams(window.location.search).get("refused") === "sign-in";
  return (
    <main className="grid min-h-full place-items-center p-6">
      <div className="grid w-full max-w-4xl gap-10 md:grid-cols-[1.2fr_1fr]">
        <div className="self-center">
          <h1 className="text-4xl font-semibold tracking-tight">Verify Loop</h1>
          <p className="mt-3 max-w-md text-lg text-muted">
            Calibrate installed instruments: what to do next, whether it is good enough, and a
            record that holds.
          </p>
          <TransferPicture />
        </div>
        <div className="rounded-2xl border border-line bg-card p-6">
          <h2 className="mb-4 text-xl font-semibold">Sign in</h2>
          <SignInForm
            onSignedIn={(session) => queries.setQueryData(sessionQuery.queryKey, session)}
          />
          {session.data?.single && (
            <a
              href="sso/authenticate/"
              className="mt-3 grid min-h-11 place-items-center rounded-xl border border-line px-4"
            >
              Sign in with the account of the site
            </a>
          )}
          {refused && (
            <p role="alert" className="mt-3 text-outside">
              The account of the site is not known here. Ask a planner to put its e-mail address to
              your account.
            </p>
          )}
        </div>
      </div>
    </main>
  );
}

/** The shape of the work: an error that leaves its corridor and is brought back. */
function TransferPicture() {
  return (
    <svg viewBox="0 0 360 130" className="mt-8 w-full max-w-md" aria-hidden="true">
      <rect x="0" y="42" width="360" height="46" className="fill-sunk" />
      <path d="M0 42h360M0 88h360" className="stroke-line" strokeWidth="1.5" />
      <path
        d="M8 62 94 52 180 36 266 24 350 8"
        className="fill-none stroke-outside"
        strokeWidth="2"
      />
      <path
        d="M8 66 94 63 180 66 266 64 350 66"
        className="fill-none stroke-accent"
        strokeWidth="3"
      />
    </svg>
  );
}
