import { useMutation } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { ApiError, client, unwrap, type JobState, type Schemas } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { Modal } from "../../../ui/Modal";

type Found = Schemas["FileOut"];
type Places = Record<string, Schemas["PlaceIn"]>;
type Chosen = { name: string; content: string };
type Props = {
  job: JobState;
  /** What the file is called, e.g. the device's file of this run. */
  what: string;
  onRead: (found: Found) => void;
};

/** Bytes of a file as base64, whatever its encoding. */
async function chosen(file: File): Promise<Chosen> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  let text = "";
  for (const byte of bytes) text += String.fromCharCode(byte);
  return { name: file.name, content: btoa(text) };
}

/** Fills the fields from a file that the device wrote; its columns are named once. */
export function ReadFile({ job, what, onRead }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const [file, setFile] = useState<Chosen | null>(null);
  const [asking, setAsking] = useState<Found | null>(null);
  const look = useMutation({
    mutationFn: (sent: Chosen & { columns?: Places }) =>
      unwrap(
        client.POST("/api/v1/jobs/{number}/file", {
          params: { path: { number: job.job } },
          body: sent,
        }),
      ),
    onSuccess: (found) => {
      setAsking(found.asks ? found : null);
      if (!found.asks) onRead(found);
    },
  });
  const problem = look.error instanceof ApiError ? look.error.problem : null;
  const read = look.data && !look.data.asks ? look.data : null;
  return (
    <div className="grid gap-1.5">
      <div className="flex flex-wrap items-center gap-2">
        <input
          ref={input}
          type="file"
          accept=".csv,.txt,.tsv,text/csv,text/plain"
          aria-label={`Read from file: ${what}`}
          className="hidden"
          onChange={(event) => {
            const picked = event.target.files?.[0];
            event.target.value = "";
            if (!picked) return;
            void chosen(picked).then((next) => {
              setFile(next);
              look.mutate(next);
            });
          }}
        />
        <Button
          className="text-[15px]"
          disabled={look.isPending}
          onClick={() => input.current?.click()}
        >
          Read from file
        </Button>
        {job.instrument.rig && (
          <a
            className="inline-flex min-h-11 items-center px-1 text-[14.5px] underline"
            href={`api/v1/jobs/${job.job}/file`}
            download
          >
            Save {what}
          </a>
        )}
      </div>
      {problem && !asking && (
        <p role="alert" className="rounded-xl border-l-4 border-outside bg-sunk px-3 py-2">
          <strong>{problem.message}</strong> {problem.remedy}
        </p>
      )}
      {read && file && (
        <p className="rounded-xl bg-sunk px-3 py-2 text-[14.5px]" aria-live="polite">
          <strong>Filled in from {file.name}.</strong> {read.said.join(" ")}{" "}
          <button
            type="button"
            className="min-h-11 underline"
            onClick={() => setAsking(look.data ?? null)}
          >
            Its columns
          </button>
        </p>
      )}
      <Modal
        open={asking !== null}
        onClose={() => setAsking(null)}
        title="Which column is which? Asked once for this device"
      >
        {asking && file && (
          <Columns
            found={asking}
            problem={problem}
            busy={look.isPending}
            onSay={(columns) => look.mutate({ ...file, columns })}
            onClose={() => setAsking(null)}
          />
        )}
      </Modal>
    </div>
  );
}

type ColumnsProps = {
  found: Found;
  problem: ApiError["problem"] | null;
  busy: boolean;
  onSay: (columns: Places) => void;
  onClose: () => void;
};

const SELECT = "min-h-11 min-w-0 rounded-xl border border-line bg-card px-2";

/** Each value that is read, and the column of the file that holds it. */
function Columns({ found, problem, busy, onSay, onClose }: ColumnsProps) {
  const [places, setPlaces] = useState<Places>(() =>
    Object.fromEntries(found.columns.map((c) => [c.id, { header: c.header, unit: c.unit }])),
  );
  const set = (id: string, header: string, unit: string) =>
    setPlaces({ ...places, [id]: { header, unit } });
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        onSay(Object.fromEntries(Object.entries(places).filter(([, place]) => place.header)));
      }}
    >
      {found.columns.map((column) => {
        const { header = "", unit = "" } = places[column.id] ?? {};
        const samples = found.headers.find((h) => h.header === header)?.samples ?? [];
        const wrong = problem?.field === `mapping.${column.id}` ? problem : null;
        return (
          <div key={column.id} className="grid gap-1">
            <div className="flex items-end gap-2">
              <label className="grid min-w-0 flex-1 gap-1">
                <span className="text-[14.5px] font-semibold">
                  {column.label}
                  {!column.required && ", if it is there"}
                </span>
                <select
                  className={SELECT}
                  value={header}
                  onChange={(e) => set(column.id, e.target.value, unit)}
                >
                  <option value="">{column.required ? "Choose" : "Not in the file"}</option>
                  {found.headers.map((h) => (
                    <option key={h.header}>{h.header}</option>
                  ))}
                </select>
              </label>
              {column.units.length > 0 && (
                <label className="grid gap-1">
                  <span className="text-[14.5px]">in</span>
                  <select
                    aria-label={`Unit of ${column.label}`}
                    className={SELECT}
                    value={unit}
                    onChange={(e) => set(column.id, header, e.target.value)}
                  >
                    <option value="">unit</option>
                    {column.units.map((u) => (
                      <option key={u}>{u}</option>
                    ))}
                  </select>
                </label>
              )}
            </div>
            {header && (
              <p className="digits text-[13.5px] text-muted">It says {samples.join(", ")}</p>
            )}
            {wrong && (
              <p role="alert" className="text-[14.5px] text-outside">
                {wrong.message} {wrong.remedy}
              </p>
            )}
          </div>
        );
      })}
      {problem && !problem.field.startsWith("mapping.") && (
        <p role="alert" className="text-outside">
          {problem.message} {problem.remedy}
        </p>
      )}
      <div className="flex flex-wrap justify-end gap-2">
        <Button onClick={onClose}>Do not read it</Button>
        <Button look="main" type="submit" disabled={busy}>
          Read these columns
        </Button>
      </div>
    </form>
  );
}
