import { useState } from "react";
import type { Problem, Schemas } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { Field } from "../../../ui/Field";
import { useDraft } from "../../../ui/draft";
import { command, type Live } from "../useLive";
import { MainButton } from "./MainButton";
import { problemAt, type StepProps } from "./types";

type Item = Schemas["SetState"];

/** Settings to write to the device; each counts only when it is read back as written. */
export function SetStep({ job, step, writer, live }: StepProps & { live: Live }) {
  const open = step.sets.filter((s) => s.to_write);
  const now = open.find((s) => !s.done);
  return (
    <>
      <ul className="grid gap-1.5">
        {open.map((s) => (
          <li
            key={s.id}
            className={`rounded-xl px-3 py-2 text-[15px] ${s.done ? "bg-sunk" : "border border-line"}`}
          >
            <span className="flex justify-between gap-2">
              <span>{s.label}</span>
              <span className="digits">
                {s.found} → <strong>{s.to_write}</strong> {s.unit}
              </span>
            </span>
            {s.done && (
              <span className="digits block text-[14px] text-within">read back {s.read_back}</span>
            )}
          </li>
        ))}
      </ul>
      {now &&
        (job.instrument.rig ? (
          <ByRig key={now.id} item={now} job={job} step={step} writer={writer} live={live} />
        ) : (
          <ByHand key={now.id} item={now} job={job} step={step} writer={writer} />
        ))}
    </>
  );
}

function ByRig({ item, job, step, writer, live }: StepProps & { item: Item; live: Live }) {
  const [refused, setRefused] = useState<Problem | null>(null);
  const [written, setWritten] = useState(false);
  const device = live.frame?.settings[item.id] ?? "";
  const write = async () => {
    const order = { kind: "write" as const, setting: item.id, text: item.to_write };
    const refusal = await command(job.instrument.tag, order);
    setRefused(refusal);
    setWritten(!refusal);
  };
  const readBack = () =>
    void writer.send([
      {
        kind: "written",
        source: "simulated",
        data: { step: step.id, setting: item.id, value: item.to_write, read_back: "" },
      },
    ]);
  const problem = problemAt(writer, "data.read_back") ?? refused;
  return (
    <>
      <p className="rounded-xl bg-live px-4 py-3 text-live-ink">
        <span className="text-[14px] text-live-muted">{item.label} in the device now</span>
        <span className="digits block text-[30px] leading-tight font-semibold">
          {device || "…"} <span className="text-lg font-normal">{item.unit}</span>
        </span>
      </p>
      <MainButton
        key={String(written)}
        busy={writer.sending}
        onClick={() => (written ? readBack() : void write())}
      >
        {written ? "Read it back" : `Write ${item.to_write} ${item.unit}`}
      </MainButton>
      {problem && (
        <p role="alert" className="text-[14px] text-outside">
          {problem.message} {problem.remedy}
        </p>
      )}
    </>
  );
}

function ByHand({ item, job, step, writer }: StepProps & { item: Item }) {
  const draft = useDraft(`${job.job}:${step.id}:${item.id}`);
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        const data = { step: step.id, setting: item.id, value: item.to_write };
        const read_back = draft.values.read_back ?? "";
        void writer
          .send([{ kind: "written", data: { ...data, read_back } }])
          .then((stored) => stored && draft.clear());
      }}
    >
      <p>
        Write <strong className="digits">{item.to_write}</strong> {item.unit} to the device, then
        read it again.
      </p>
      <Field
        label={`${item.label}, read back`}
        unit={item.unit}
        autoFocus
        value={draft.values.read_back ?? ""}
        problem={problemAt(writer, "data.read_back")}
        onChange={(e) => draft.set("read_back", e.target.value)}
      />
      <Button look="main" type="submit" data-main="true" className="sticky bottom-0 z-[1]">
        It reads so
      </Button>
    </form>
  );
}
