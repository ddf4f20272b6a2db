import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { jobQueries } from "../api";

/** Other sensors in the same block: the next one to read is a tap away. */
export function Turns({ job, block }: { job: string; block: string }) {
  const turns = useQuery(jobQueries.turns(job));
  if (!turns.data?.length) return null;
  return (
    <section aria-label={`Also in ${block}`} className="rounded-xl bg-sunk px-3 py-2">
      <h3 className="text-[14.5px] text-muted">Also in {block}, to be read in turn</h3>
      <ul>
        {turns.data.map((turn) => (
          <li key={turn.job}>
            <Link
              to={`/jobs/${turn.job}`}
              className={`flex min-h-11 flex-wrap items-center gap-x-2 text-[15px] hover:underline ${turn.same ? "font-semibold" : "text-muted"}`}
            >
              <span className="digits">{turn.tag}</span>
              <span>{turn.same ? "waits for the same point" : turn.waits_for}</span>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}
