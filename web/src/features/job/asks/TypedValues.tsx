import { useRef, useState, type KeyboardEvent } from "react";
import type { JobState, Schemas, Value } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { Field } from "../../../ui/Field";
import { useAsking } from "../../../ui/ask";
import { draftOf, dropDraft, useDraft } from "../../../ui/draft";
import type { NewEvent, Writer } from "../useWriter";
import { NumberPad } from "./NumberPad";
import { ReadFile } from "./ReadFile";
import { Reason } from "./Reason";
import { Stopwatch } from "./Stopwatch";

type Props = {
  job: JobState;
  writer: Writer;
  columns: readonly Value[];
  place: string;
  button: string;
  event: (values: Record<string, unknown>) => NewEvent;
  /** The same values as a point beside the target, with why. */
  beside?: (values: Record<string, unknown>, reason: string) => NewEvent;
  /** Sent together with it. */
  also?: NewEvent[];
  onStored?: () => void;
  /** What a display shows of these values now, where there is a rig. */
  now?: Now[];
  /** What a file of the device is called, where one fills the fields. */
  file?: string;
};

/** Readings typed in. What is half typed for one point never goes on at another. */
export function TypedValues(props: Props) {
  const { job, place } = props;
  const [at, setAt] = useState(place);
  const [own, setOwn] = useState(false);
  const typed = at === place ? [] : draftOf(`${job.job}:${at}`);
  if (at !== place && (own || typed.length === 0)) {
    setOwn(false);
    setAt(place);
  }
  if (at !== place && !own && typed.length > 0)
    return (
      <div role="alert" className="rounded-xl border-l-4 border-caution-edge bg-caution p-3">
        <p className="font-semibold">Somebody else took this one while you typed.</p>
        <p className="digits my-1">You had typed {typed.join(", ")}.</p>
        <Button
          className="mt-1 font-semibold"
          onClick={() => {
            dropDraft(`${job.job}:${at}`);
            setAt(place);
          }}
        >
          Drop it and go on
        </Button>
      </div>
    );
  return <TypedOnce {...props} key={place} onSending={setOwn} />;
}

type Now = Schemas["OnDisplay"];

/** What a row is about and, where there is a rig, what the display shows of it now. */
function Legend({ row, shown }: { row: string; shown: Now | undefined }) {
  return (
    <legend className="mb-0.5 flex w-full items-baseline justify-between gap-2 text-[14.5px]">
      <span className="font-semibold">{row}</span>
      {shown && (
        <span className={shown.steady ? "" : "text-muted"}>
          <span className="digits text-[17px]">{shown.value}</span>{" "}
          {shown.steady ? "steady" : "moves"}
        </span>
      )}
    </legend>
  );
}

/** Numbers of one row side by side; words, and what has no row, by themselves. */
function rowsOf(columns: readonly Value[]): { row: string; columns: Value[] }[] {
  const rows = new Map<string, Value[]>();
  for (const column of columns) {
    const row = column.number ? column.row : "";
    rows.set(row, [...(rows.get(row) ?? []), column]);
  }
  return [...rows].map(([row, side]) => ({ row, columns: side }));
}

/** One point: Enter moves on, the last one takes it. A slip is asked about. */
function TypedOnce(props: Props & { onSending: (sending: boolean) => void }) {
  const { job, writer, columns, place, button, event, beside, also = [], onStored } = props;
  const now = props.now ?? [];
  const fields = columns.map((c) => c.id);
  const needed = new Set(columns.filter((c) => c.required).map((c) => c.id));
  const draft = useDraft(`${job.job}:${place}`);
  const inputs = useRef<Record<string, HTMLInputElement | null>>({});
  const [focus, setFocus] = useState(fields[0] ?? "");
  const asks = columns.find((c) => c.id === focus);
  useAsking(
    asks
      ? {
          job: job.job,
          tag: job.instrument.tag,
          seq: job.seq,
          place,
          field: asks.id,
          label: asks.row ? `${asks.row}, ${asks.label.toLowerCase()}` : asks.label,
          unit: asks.unit,
        }
      : null,
  );
  const field = writer.problem?.field.replace("data.", "") ?? "";
  const slip = writer.problem?.code === "slip.suspected" ? writer.problem : null;
  const off = beside && writer.problem?.code === "reading.off_target" ? writer.problem : null;
  const swapped = slip?.swap.replace("data.", "") ?? "";
  const take = async (extra: Record<string, unknown> = {}, reason = "") => {
    const typed = Object.fromEntries(
      fields
        .map((name) => [name, draft.values[name] ?? ""] as const)
        .filter(([name, value]) => value.trim() !== "" || needed.has(name)),
    );
    const read = draft.values.read_from;
    const all = { ...typed, ...(read ? { read_from: { digest: read } } : {}), ...extra };
    const made = beside && reason ? beside(all, reason) : event(all);
    props.onSending(true);
    // What is kept here goes on by itself later: nobody else took it then.
    if (!(await writer.send([made, ...also])))
      return props.onSending(writer.keeps([made, ...also]));
    draft.clear();
    inputs.current[fields[0] ?? ""]?.focus();
    onStored?.();
  };
  const onKey = (key: KeyboardEvent, index: number) => {
    if (key.key !== "Enter") return;
    key.preventDefault();
    if (key.repeat) return;
    const next = inputs.current[fields[index + 1] ?? ""];
    if (next) next.focus();
    else void take();
  };
  // The question stands beside the form: a form inside a form sends neither.
  return (
    <>
      {off && (
        <div role="alert" className="rounded-xl border-l-4 border-caution-edge bg-caution p-3">
          <p className="mb-2 font-semibold">{off.message}</p>
          <p className="mb-2 text-[14px]">{off.remedy}</p>
          <Reason
            label="Kept where it was taken: why?"
            suggestions={["The target cannot be reached", "Read on the way"]}
            button="Keep as extra point"
            problem={null}
            busy={writer.sending}
            onReason={(reason) => reason.trim() && void take({ kept: true }, reason)}
            onCancel={() => {
              writer.clear();
              inputs.current[field]?.focus();
            }}
          />
        </div>
      )}
      {props.file && (
        <ReadFile
          job={job}
          what={props.file}
          onRead={(found) => {
            // What the file does not say is typed: nothing of a file read before stays.
            fields.forEach((name) => draft.set(name, found.values[name] ?? ""));
            draft.set("read_from", found.digest);
          }}
        />
      )}
      <form
        className="grid grid-cols-2 gap-2.5 pointer-coarse:[&_input]:scroll-mb-72"
        onSubmit={(e) => {
          e.preventDefault();
          void take();
        }}
      >
        {now.length > 0 && (
          <Button
            className="col-span-2 text-[15px]"
            disabled={!now.every((s) => s.steady)}
            onClick={() => now.forEach((s) => draft.set(s.id, s.value))}
          >
            Fill in what it shows
          </Button>
        )}
        {columns
          .filter((c) => c.tap)
          .map((c) => (
            <Stopwatch
              key={c.id}
              place={`${job.job}:${c.id}`}
              onTap={(seconds) => draft.set(c.id, seconds)}
            />
          ))}
        {rowsOf(columns).map(({ row, columns: side }) => (
          <fieldset
            key={row}
            className={row ? "col-span-2 grid auto-cols-fr grid-flow-col gap-1.5" : "contents"}
          >
            {row && <Legend row={row} shown={now.find((s) => s.id === side[0]?.id)} />}
            {side.map(({ id: name, label, unit, number }) => (
              <Field
                key={name}
                ref={(element) => {
                  inputs.current[name] = element;
                }}
                digits
                autoFocus={name === fields[0]}
                inputMode={number ? "decimal" : "text"}
                inside={row ? label : undefined}
                label={row ? `${row}: ${label}` : label}
                unit={unit}
                value={draft.values[name] ?? ""}
                problem={field === name && !slip && !off ? writer.problem : null}
                onFocus={() => setFocus(name)}
                onChange={(e) => draft.set(name, e.target.value)}
                onKeyDown={(e) => onKey(e, fields.indexOf(name))}
              />
            ))}
          </fieldset>
        ))}
        {slip && (
          <div
            role="alert"
            className="col-span-2 rounded-xl border-l-4 border-caution-edge bg-caution p-3"
          >
            <p className="font-semibold">{slip.message}</p>
            <div className="mt-2 flex flex-wrap gap-2">
              {swapped && (
                <Button
                  onClick={() => {
                    const swap = {
                      [field]: draft.values[swapped] ?? "",
                      [swapped]: draft.values[field] ?? "",
                    };
                    Object.entries(swap).forEach(([name, value]) => draft.set(name, value));
                    void take(swap);
                  }}
                >
                  Swap them
                </Button>
              )}
              {slip.suggestion && (
                <Button
                  onClick={() => {
                    draft.set(field, slip.suggestion);
                    void take({ [field]: slip.suggestion });
                  }}
                >
                  Use {slip.suggestion}
                </Button>
              )}
              <Button onClick={() => void take({ kept: true })}>Keep it</Button>
              <Button onClick={() => inputs.current[field]?.focus()}>Correct it</Button>
            </div>
          </div>
        )}
        <Button
          look="main"
          type="submit"
          data-main="true"
          className="sticky bottom-0 z-[1] col-span-2 pointer-coarse:static"
          disabled={writer.sending}
        >
          {button}
        </Button>
        <NumberPad
          onKey={(key) => {
            const now = draft.values[focus] ?? "";
            draft.set(focus, key === "back" ? now.slice(0, -1) : now + key);
          }}
          onNext={() => {
            const next = inputs.current[fields[fields.indexOf(focus) + 1] ?? ""];
            if (next) next.focus();
            else void take();
          }}
        />
      </form>
    </>
  );
}
