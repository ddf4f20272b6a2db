import type { Schemas } from "../../../api/client";
import type { NewEvent } from "../useWriter";
import { MainButton } from "./MainButton";
import type { StepProps } from "./types";

type Together = Schemas["Together"];

/** Several steps that one person states in one breath; each becomes its own entry. */
export function TogetherStep({
  job,
  writer,
  together,
}: Omit<StepProps, "step"> & { together: Together }) {
  const source = job.instrument.rig ? "simulated" : "typed";
  const send = () =>
    void writer.send(
      together.events.map((e): NewEvent => {
        const { kind, ...rest } = e;
        const data = Object.fromEntries(Object.entries(rest).filter(([, value]) => value !== ""));
        return { kind, data, source: kind === "recorded" ? "typed" : source };
      }),
    );
  return (
    <>
      <ul className="grid gap-1.5 rounded-xl border border-line p-3">
        {together.lines.map((line) => (
          <li key={line} className="grid grid-cols-[20px_1fr] text-[15.5px]">
            <span aria-hidden="true" className="text-muted">
              ·
            </span>
            {line}
          </li>
        ))}
      </ul>
      <MainButton busy={writer.sending} onClick={send}>
        {together.title}
      </MainButton>
    </>
  );
}
