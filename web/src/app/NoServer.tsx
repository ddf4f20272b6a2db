import { useEffect } from "react";
import { Button } from "../ui/Button";
import { keptHere } from "../features/job/outbox";

/** Our own page when the server does not answer: what is kept here, and that it is tried again. */
export default function NoServer({ onRetry }: { onRetry: () => void }) {
  useEffect(() => {
    const timer = setInterval(onRetry, 3000);
    return () => clearInterval(timer);
  }, [onRetry]);
  const kept = keptHere();
  return (
    <main className="mx-auto max-w-xl p-6">
      <h1 className="text-3xl font-semibold">The server does not answer</h1>
      <p role="status" className="mt-3 text-lg">
        It is asked again every few seconds; the page comes back by itself.
      </p>
      {kept.length > 0 ? (
        <section aria-label="Kept here" className="mt-6 rounded-2xl border border-line bg-card p-4">
          <h2 className="font-semibold">Kept on this device until it does</h2>
          <ul className="mt-2 grid gap-2">
            {kept.map(({ person, job, lines }) => (
              <li key={person + job}>
                <strong>{job}</strong>, entries of {person}:
                <ul className="digits list-disc pl-5 text-[14.5px]">
                  {lines.map((line, n) => (
                    <li key={n}>{line}</li>
                  ))}
                </ul>
              </li>
            ))}
          </ul>
        </section>
      ) : (
        <p className="mt-3 text-muted">No entry waits on this device.</p>
      )}
      <p className="mt-6 text-muted">
        What is in bypass stays in bypass. Tell the operator when you cannot go on.
      </p>
      <Button look="main" className="mt-4" onClick={onRetry}>
        Try now
      </Button>
    </main>
  );
}
