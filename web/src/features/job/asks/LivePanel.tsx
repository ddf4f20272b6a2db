import type { Frame, RunState } from "../../../api/client";

type Props = { frame: Frame | null; lost: boolean; run: RunState };

/** The live value, readable from two metres, with how steady it is. */
export function LivePanel({ frame, lost, run }: Props) {
  if (!frame)
    return (
      <div className="rounded-xl bg-live px-4 py-6 text-live-muted">
        {lost ? "The rig does not answer. Type the reading in, or wait." : "Waiting for the rig …"}
      </div>
    );
  const display = frame.on_display;
  const value = display
    ? `${frame.digital} ${run.input_unit} on the display`
    : `${run.output_label} ${frame.output} ${run.output_unit}`;
  return (
    <div className="rounded-xl bg-live px-4 py-3 text-live-ink">
      <p className="sr-only">
        {value}, {frame.steady ? "steady" : `not steady yet: ${frame.steady_text}`}.
      </p>
      <p
        aria-hidden="true"
        className="digits text-[44px] leading-none font-semibold"
        data-testid="live-value"
      >
        {display ? frame.digital : frame.output}
        <span className="ml-2 text-lg font-normal text-live-muted">
          {display ? run.input_unit : run.output_unit}
        </span>
      </p>
      <div
        role="meter"
        aria-label="Steadiness"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(frame.steady_share * 100)}
        className="mt-2.5 h-2.5 overflow-hidden rounded bg-white/20"
      >
        <span
          className="block h-full bg-live-bar"
          style={{ width: `${frame.steady_share * 100}%` }}
        />
      </div>
      <p className="mt-1.5 flex justify-between text-[14px] text-live-muted">
        <span>{frame.steady ? "steady" : frame.steady_text}</span>
        <span className="digits">{frame.scatter}</span>
      </p>
      {!(display && run.input_unit === run.output_unit) && (
        <p className="mt-1.5 flex items-baseline justify-between border-t border-white/20 pt-1.5 text-[14px] text-live-muted">
          <span>{display ? "output" : "applied"}</span>
          <span className="digits text-lg text-live-ink">
            {display ? `${frame.output} ${run.output_unit}` : `${frame.applied} ${run.input_unit}`}
          </span>
        </p>
      )}
      {lost && <p className="mt-1 text-[14px]">Connection lost: shown as last known.</p>}
    </div>
  );
}
