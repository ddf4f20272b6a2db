import { clock, useNow } from "../../../ui/time";
import { MainButton } from "./MainButton";
import { entry, type AskProps } from "./types";

/** A wait with its countdown. */
export function WaitAsk({ ask, writer }: AskProps) {
  const now = useNow();
  const left = ask.ends_at ? Date.parse(ask.ends_at) - now : 0;
  if (!ask.ends_at)
    return (
      <MainButton
        busy={writer.sending}
        onClick={() => ask.sends && void writer.send([entry(ask.sends)])}
      >
        {ask.button}
      </MainButton>
    );
  return (
    <div className="rounded-xl bg-live px-4 py-3 text-live-ink">
      <p className="digits text-[44px] leading-none font-semibold" role="timer">
        {clock(left)}
      </p>
      <p className="mt-2 text-[14px] text-live-muted">left of {ask.minutes} min</p>
    </div>
  );
}
