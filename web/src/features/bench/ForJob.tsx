import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import { client, unwrap } from "../../api/client";
import { Button } from "../../ui/Button";
import { useAsk, type Ask } from "../../ui/ask";
import { putDraft } from "../../ui/draft";

/** A way to put a result into the field of a job that asked; none where no field did. */
export type Use = { unit: string; label: string; put: (text: string) => void } | null;

const plain = (text: string) => text.replace(/\s/g, "").replace("−", "-");
export const isNumber = (text: string) => /^-?\d+([.,]\d+)?$/.test(plain(text));

const stateOf = ({ job }: Ask) =>
  unwrap(client.GET("/api/v1/jobs/{number}", { params: { path: { number: job } } }));

/** Which field asked, the way back, and how a result gets there. */
export function useForJob(): { bar: React.ReactNode; use: Use } {
  const navigate = useNavigate();
  const [field, forget] = useAsk();
  const [gone, setGone] = useState("");
  const came = useQuery({
    queryKey: ["asked for", field],
    queryFn: () => (field ? stateOf(field) : null),
    enabled: field !== null,
    staleTime: Infinity,
  });
  // A field of before: its step is behind, nobody asks any more.
  if (!field || came.data?.seq !== field.seq) return { bar: null, use: null };
  const put = async (text: string) => {
    const now = await stateOf(field).catch(() => null);
    if (now?.seq !== field.seq)
      return setGone(
        now
          ? "The job has gone on since. Nothing was filled in."
          : "The server does not answer. Nothing was filled in.",
      );
    putDraft(`${field.job}:${field.place}`, field.field, plain(text));
    forget();
    void navigate(`/jobs/${field.job}`);
  };
  return {
    bar: <Bar field={field} gone={gone} onForget={forget} />,
    use: gone ? null : { unit: field.unit, label: field.label, put: (text) => void put(text) },
  };
}

function Bar({ field, gone, onForget }: { field: Ask; gone: string; onForget: () => void }) {
  return (
    <section
      aria-label="For a job"
      className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-1 rounded-xl bg-accent-soft px-4 py-1.5 print:hidden"
    >
      <p className="min-w-0 flex-1">
        For <strong>{field.tag}</strong>, {field.label}
        {field.unit && ` in ${field.unit}`}
        {gone && <strong className="block text-outside">{gone}</strong>}
      </p>
      <Link className="inline-flex min-h-11 items-center underline" to={`/jobs/${field.job}`}>
        Back to {field.job}
      </Link>
      <Button onClick={onForget}>Not for it</Button>
    </section>
  );
}
