import { Button } from "../../../ui/Button";
import { MainButton } from "./MainButton";
import { eventsOf, Lines } from "./together";
import type { StepProps } from "./types";

type Props = Omit<StepProps, "step"> & { onApart: () => void };

/** Several steps that one person states in one breath; each becomes its own entry. */
export function TogetherStep({ job, writer, onApart }: Props) {
  const together = job.together;
  if (!together) return null;
  return (
    <>
      <Lines together={together} />
      <MainButton busy={writer.sending} onClick={() => void writer.send(eventsOf(job))}>
        {together.title}
      </MainButton>
      <Button onClick={onApart}>Not all of it: line by line</Button>
    </>
  );
}
