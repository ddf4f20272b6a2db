import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { Pager } from "../../ui/Pager";
import { Empty, ErrorBox, Loading } from "../../ui/states";
import { counted, kitQueries, type Listed, type Reference } from "./api";

/** Every reference: until when it may be used, what is particular to it, what is left of it. */
export function References({ q, page, onPage }: Listed) {
  const found = useQuery(kitQueries.references({ q, page }));
  if (found.isPending) return <Loading what="the references" />;
  if (found.isError) return <ErrorBox error={found.error} onRetry={() => void found.refetch()} />;
  return (
    <section aria-label="References">
      {found.data.total === 0 && (
        <Empty>{q ? "No reference has these words." : "No reference is in the kit."}</Empty>
      )}
      <ul className="overflow-hidden rounded-2xl border border-line bg-card empty:hidden">
        {found.data.references.map((r) => (
          <Line key={r.asset} r={r} />
        ))}
      </ul>
      <Pager {...found.data} total={counted(found.data.total, q, "in the kit")} onPage={onPage} />
    </section>
  );
}

function Line({ r }: { r: Reference }) {
  return (
    <li className="grid gap-x-4 gap-y-1 border-t border-line px-4 py-3 first:border-t-0 sm:grid-cols-[80px_1fr_150px]">
      <Link
        to={`/kit/${encodeURIComponent(r.asset)}`}
        className="text-lg font-semibold hover:underline"
      >
        {r.asset}
      </Link>
      <span className="min-w-0">
        {r.description}
        <span className="block text-[14px] text-muted">
          until {r.due_on} · {r.serial} · {r.certificate}
        </span>
        {r.lines.length > 0 && (
          <span className="block text-[14px] text-muted">
            {r.lines.map((row) => `${row.label} ${row.value}`).join(" · ")}
          </span>
        )}
        {r.remark && (
          <span className="block text-[14px] font-semibold text-outside">{r.remark}</span>
        )}
      </span>
      {r.left && (
        <span className="text-[14px]">
          <strong className="digits">{r.left}</strong>
          <span className="mt-1 block h-2 overflow-hidden rounded bg-sunk" aria-hidden="true">
            <span
              className={`block h-full ${r.usable ? "bg-within" : "bg-outside"}`}
              style={{ width: `${r.left_share * 100}%` }}
            />
          </span>
        </span>
      )}
    </li>
  );
}
