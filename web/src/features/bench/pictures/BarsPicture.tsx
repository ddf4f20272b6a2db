import { scaleLinear } from "d3-scale";
import type { Schemas } from "../../../api/client";
import { GROUND } from "./tones";

type Bars = Schemas["Bars"];

/** Lengths under each other, or end to end in one bar. */
export function BarsPicture({ picture }: { picture: Bars }) {
  const total = picture.bars.reduce((sum, b) => sum + b.value, 0);
  const most = picture.together
    ? total
    : Math.max(picture.limit ?? 0, ...picture.bars.map((b) => b.value));
  const length = scaleLinear([0, most * (picture.together ? 1 : 1.04) || 1], [0, 100]).clamp(true);
  const limit = picture.limit ?? null;
  const limitAt = limit === null ? 0 : length(limit);
  return (
    <div role="img" aria-label={picture.alt} className="py-4">
      <div className="relative grid gap-3 pb-7">
        {picture.together ? (
          <div className="flex h-16 overflow-hidden rounded-xl border border-line bg-sunk">
            {picture.bars.map((bar) => (
              <div
                key={bar.label}
                style={{ width: `${length(bar.value)}%` }}
                className={`min-w-0.5 border-r-2 border-card ${GROUND[bar.tone ?? "accent"]}`}
              />
            ))}
          </div>
        ) : (
          picture.bars.map((bar) => (
            <div key={bar.label}>
              <div className="mb-1 flex justify-between gap-4 text-[15px]">
                <span>{bar.label}</span>
                <span className="digits">{bar.text}</span>
              </div>
              <div className="h-7 rounded-lg bg-sunk">
                <div
                  style={{ width: `${length(bar.value)}%` }}
                  className={`h-full min-w-0.5 rounded-lg ${GROUND[bar.tone ?? "accent"]}`}
                />
              </div>
            </div>
          ))
        )}
        {limit !== null && limit <= most * 1.04 && (
          <div
            className="absolute inset-y-0 border-l-2 border-dashed border-ink"
            style={{ left: `${limitAt}%` }}
          >
            <span
              className={`absolute bottom-0 text-[13px] whitespace-nowrap ${limitAt > 70 ? "right-1.5" : "left-1.5"}`}
            >
              {picture.limit_label}
            </span>
          </div>
        )}
      </div>
      {picture.together && (
        <ul className="mt-2 grid gap-1.5">
          {picture.bars.map((bar) => (
            <li key={bar.label} className="flex items-center gap-3 text-[15px]">
              <span className={`size-4 rounded ${GROUND[bar.tone ?? "accent"]}`} />
              {bar.label}
              <span className="digits ml-auto">{bar.text}</span>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
