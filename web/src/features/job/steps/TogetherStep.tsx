import { MainButton } from "./MainButton";
import { eventsOf, Lines } from "./together";
import type { StepProps } from "./types";

/** Several steps that one person states in one breath; each becomes its own entry. */
export function TogetherStep({ job, writer }: Omit<StepProps, "step">) {
  const together = job.together;
  if (!together) return null;
  return (
    <>
      <Lines together={together} />
      <MainButton busy={writer.sending} onClick={() => void writer.send(eventsOf(job))}>
        {together.title}
      </MainButton>
    </>
  );
}
