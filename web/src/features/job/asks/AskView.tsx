import { useState } from "react";
import { Button } from "../../../ui/Button";
import { Blocks } from "../Blocks";
import { ChooseFromShelf } from "./ChooseFromShelf";
import { ChooseOption } from "./ChooseOption";
import { FormAsk } from "./FormAsk";
import { Beside, ReadAsk } from "./ReadAsk";
import { RefusalBox } from "./RefusalBox";
import { SignAsk } from "./SignAsk";
import { StateAsk } from "./StateAsk";
import { TellAsk } from "./TellAsk";
import { entry, type AskProps, type Form } from "./types";
import { WaitAsk } from "./WaitAsk";

/** One thing that is asked: what it says, how it is answered, and what is said where it is not so. */
export function AskView(props: AskProps) {
  const { ask, writer, live, job } = props;
  const [saying, setSaying] = useState<Form | null>(null);
  const refused = ask.refusal && !ask.refusal.agreed ? ask.refusal : null;
  const box = refused && (
    <RefusalBox writer={writer} refusal={refused} unit={ask.values[0]?.unit ?? ""} />
  );
  const steady = live.frame?.shown.every((one) => one.steady) ?? false;
  const byHand = ask.way !== "state" && !ask.by.includes("rig");
  const forms = ask.if_not.filter((form) => !form.line);
  if (saying)
    return (
      <>
        <p className="text-[15px] text-muted">{saying.why}</p>
        <FormAsk
          form={saying}
          job={job.job}
          writer={writer}
          onDone={() => setSaying(null)}
          onCancel={() => setSaying(null)}
        />
      </>
    );
  return (
    <>
      <Blocks
        blocks={ask.blocks.filter((b) => b.kind !== "timer" || !job.instrument.rig || byHand)}
      />
      {live.frame?.beside && !ask.alone && <Beside beside={live.frame.beside} />}
      {!refused?.again && box}
      {(!refused || refused.again || ask.way === "read") && <Way {...props} />}
      {refused?.again && box}
      {ask.others
        .filter((other) => !other.live || (ask.by.includes("rig") && steady))
        .map((other) => (
          <Button
            key={other.label}
            disabled={writer.sending}
            onClick={() =>
              void writer.send(
                other.events.map((e) =>
                  entry(
                    e,
                    other.live && e.kind === ask.sends?.kind ? { sample_at: live.frame?.t } : {},
                  ),
                ),
              )
            }
          >
            {other.label}
          </Button>
        ))}
      {forms.map((form) =>
        form.button ? (
          <Button
            key={form.button}
            disabled={writer.sending}
            onClick={() =>
              form.fields.length > 0 || form.choices.length > 0
                ? setSaying(form)
                : void writer.send([{ kind: form.kind, data: form.data ?? {} }])
            }
          >
            {form.button}
          </Button>
        ) : (
          <div
            key={form.kind}
            role="alert"
            className="rounded-xl border-l-4 border-caution-edge bg-caution p-3"
          >
            <p className="mb-2 font-semibold">{form.title}</p>
            <p className="mb-2 text-[14px]">{form.why}</p>
            <FormAsk form={form} job={job.job} writer={writer} aside />
          </div>
        ),
      )}
    </>
  );
}

function Way(props: AskProps) {
  switch (props.ask.way) {
    case "choose":
      return props.ask.by.includes("kit") ? (
        <ChooseFromShelf {...props} />
      ) : (
        <ChooseOption {...props} />
      );
    case "state":
      return <StateAsk {...props} />;
    case "tell":
      return <TellAsk {...props} />;
    case "read":
    case "set":
      return <ReadAsk {...props} />;
    case "wait":
      return <WaitAsk {...props} />;
    case "prove":
      // Locks stand in a list of their own, whoever hung them.
      return props.ask.key ? null : <SignAsk {...props} />;
  }
}
