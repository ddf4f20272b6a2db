import { useState } from "react";
import type { JobState, Point, RunState } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { Field } from "../../../ui/Field";
import { Modal } from "../../../ui/Modal";
import type { NewEvent, Writer } from "../useWriter";

type Props = { job: JobState; run: RunState; writer: Writer; onClose: () => void };
type Values = Record<string, string>;

/**
 * A whole run as it was written on the paper form: one table, stored line by line. What is asked
 * about stops it there; the lines before it are stored, those after it stay typed.
 */
export function FromPaper({ job, run, writer, onClose }: Props) {
  const [day, setDay] = useState("");
  const [typed, setTyped] = useState<Record<number, Values>>({});
  const [stopped, setStopped] = useState(-1);
  const [said, setSaid] = useState(false);
  const left = run.points.filter((p) => !p.event);
  const needed = run.columns.filter((c) => c.required).map((c) => c.id);
  const at = (index: number): Values => typed[index] ?? {};
  const whole = left.filter((p) => needed.every((name) => at(p.index)[name]?.trim()));
  const fill = (index: number, name: string, value: string) =>
    setTyped({ ...typed, [index]: { ...at(index), [name]: value } });
  const store = async (keep = -1) => {
    let noted = said;
    for (const point of whole) {
      const values = Object.fromEntries(
        Object.entries(at(point.index)).filter(([, value]) => value.trim() !== ""),
      );
      const event: NewEvent = {
        kind: "reading_taken",
        data: {
          run: run.id,
          point: point.index,
          ...(point.stands_for ? { applied: point.stands_for } : {}),
          ...values,
          ...(point.index === keep ? { kept: true } : {}),
        },
      };
      const note: NewEvent = {
        kind: "noted",
        data: { text: `${run.title}: copied from the paper form of ${day}` },
      };
      if (!(await writer.send(noted ? [event] : [note, event]))) {
        setStopped(point.index);
        return;
      }
      noted = true;
      setSaid(true);
      setStopped(-1);
    }
    if (whole.length === left.length) onClose();
  };
  const problem = stopped >= 0 ? writer.problem : null;
  const inColumn = problem?.field.replace("data.", "") ?? "";
  return (
    <Modal open onClose={onClose} title={`${run.title}, from the paper form`}>
      <div className="grid gap-3">
        <Field
          label="Day that stands on the paper"
          type="date"
          required
          value={day}
          onChange={(e) => setDay(e.target.value)}
        />
        <div className="overflow-x-auto">
          <table className="w-full">
            <thead className="text-left text-[14px] text-muted">
              <tr>
                <th scope="col" className="py-1 pr-2 font-normal">
                  Point
                </th>
                {run.columns.map((c) => (
                  <th key={c.id} scope="col" className="py-1 pr-2 font-normal">
                    {c.label} {c.unit}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {left.map((point) => (
                <Line
                  key={point.index}
                  run={run}
                  point={point}
                  values={at(point.index)}
                  problem={point.index === stopped ? inColumn : ""}
                  onFill={(name, value) => fill(point.index, name, value)}
                />
              ))}
            </tbody>
          </table>
        </div>
        {problem && (
          <div role="alert" className="rounded-xl border-l-4 border-caution-edge bg-caution p-3">
            <p className="font-semibold">
              {run.points[stopped]?.label}: {problem.message}
            </p>
            <p className="mb-2 text-[14px]">{problem.remedy}</p>
            {problem.code === "slip.suspected" && (
              <Button disabled={writer.sending} onClick={() => void store(stopped)}>
                It stands like that on the paper: go on
              </Button>
            )}
          </div>
        )}
        <p className="flex flex-wrap gap-2">
          <Button onClick={onClose}>One by one instead</Button>
          <Button
            look="main"
            disabled={writer.sending || !day || whole.length === 0}
            onClick={() => void store()}
          >
            Store {whole.length} of {left.length}
          </Button>
        </p>
        <p className="text-[14px] text-muted">
          Each is entered in your name now; the note says that it was copied, and of which day.
          {job.instrument.rig && " Nothing is taken from the rig."}
        </p>
      </div>
    </Modal>
  );
}

type LineProps = {
  run: RunState;
  point: Point;
  values: Values;
  /** the column that is asked about; empty where none is */
  problem: string;
  onFill: (name: string, value: string) => void;
};

function Line({ run, point, values, problem, onFill }: LineProps) {
  return (
    <tr className="border-t border-line">
      <th scope="row" className="digits py-1 pr-2 text-left font-normal whitespace-nowrap">
        {point.label}
      </th>
      {run.columns.map((c) => (
        <td key={c.id} className="py-1 pr-2">
          <input
            aria-label={`${point.label}, ${c.label}`}
            aria-invalid={problem === c.id ? true : undefined}
            inputMode="decimal"
            autoComplete="off"
            value={values[c.id] ?? ""}
            onChange={(e) => onFill(c.id, e.target.value)}
            className={`digits min-h-11 w-full min-w-16 rounded-[10px] border bg-card px-2 ${problem === c.id ? "border-2 border-outside" : "border-line"}`}
          />
        </td>
      ))}
    </tr>
  );
}
