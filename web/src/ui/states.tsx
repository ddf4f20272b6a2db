import { Link } from "react-router";
import { ApiError, NO_ANSWER } from "../api/client";

/** Something is on its way. */
export function Loading({ what }: { what: string }) {
  return (
    <p role="status" className="p-8 text-muted">
      Loading {what} …
    </p>
  );
}

/** What happened, what was kept, what to do. */
export function ErrorBox({ error, onRetry }: { error: Error; onRetry?: () => void }) {
  const problem = error instanceof ApiError ? error.problem : NO_ANSWER;
  const nowhere = error instanceof ApiError && error.status === 404;
  const way =
    "mt-3 inline-flex min-h-11 items-center rounded-xl border border-line bg-card px-4 font-semibold";
  return (
    <div role="alert" className="rounded-xl border-2 border-outside bg-card p-5">
      <p className="text-lg font-semibold">{problem.message}</p>
      {problem.remedy && <p className="mt-1">{problem.remedy}</p>}
      {nowhere ? (
        <Link to="/" className={way}>
          Go to Today
        </Link>
      ) : (
        onRetry && (
          <button type="button" onClick={onRetry} className={way}>
            Try again
          </button>
        )
      )}
    </div>
  );
}

/** Nothing to show, and what to do about it. */
export function Empty({ children }: { children: React.ReactNode }) {
  return <p className="rounded-xl border border-dashed border-line p-6 text-muted">{children}</p>;
}
