import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import type { Schemas } from "../../api/client";
import { useSize } from "../../ui/useSize";

type CurvePoint = Schemas["CurvePoint"];
type Props = { beside: Schemas["Beside"]; unit: string; label: string };
const EDGE = { left: 52, right: 14, top: 14, bottom: 28 };

/** What a device shows over time, with the curve that is expected of it. */
export function BesidePicture({ beside, unit, label }: Props) {
  const { ref, width: W, height: H } = useSize<HTMLDivElement>(440, 300);
  const all = [...beside.curve, ...beside.expected];
  const last = beside.curve.at(-1);
  const values = all.map((p) => p.value);
  const low = Math.min(0, ...values);
  const high = Math.max(low + 1, ...values);
  const x = scaleLinear([0, Math.max(30, ...all.map((p) => p.t))], [EDGE.left, W - EDGE.right]);
  const y = scaleLinear(
    [low - (high - low) * 0.06, high + (high - low) * 0.1],
    [H - EDGE.bottom, EDGE.top],
  );
  const path = line<CurvePoint>(
    (p) => x(p.t),
    (p) => y(p.value),
  );
  return (
    <div ref={ref} className="min-h-0 flex-1">
      <svg
        width={W}
        height={H}
        className="block"
        role="img"
        aria-label={`${label}: ${last ? `${last.value} ${unit} after ${last.t} seconds` : "nothing yet"}`}
      >
        {y.ticks(5).map((level) => (
          <g key={level}>
            <line
              x1={EDGE.left}
              x2={W - EDGE.right}
              y1={y(level)}
              y2={y(level)}
              className="stroke-line"
            />
            <text
              x={EDGE.left - 8}
              y={y(level) + 4}
              textAnchor="end"
              className="digits fill-muted text-[12px]"
            >
              {level < 0 ? `−${-level}` : level}
            </text>
          </g>
        ))}
        {x.ticks(5).map((t) => (
          <text
            key={t}
            x={x(t)}
            y={H - 8}
            textAnchor="middle"
            className="digits fill-muted text-[12px]"
          >
            {t} s
          </text>
        ))}
        <path
          d={path([...beside.expected]) ?? ""}
          className="fill-none stroke-accent"
          strokeWidth="1.6"
          strokeDasharray="5 5"
        />
        <path
          d={path([...beside.curve]) ?? ""}
          className="fill-none stroke-ink"
          strokeWidth="2.4"
        />
        {last && <circle cx={x(last.t)} cy={y(last.value)} r="5" className="fill-ink" />}
        {beside.level !== null && (
          <g>
            <line
              x1={EDGE.left}
              x2={W - EDGE.right}
              y1={y(beside.level)}
              y2={y(beside.level)}
              className="stroke-within"
              strokeWidth="1.6"
            />
            <text
              x={W - EDGE.right}
              y={y(beside.level) - 5}
              textAnchor="end"
              className="fill-within text-[13px]"
            >
              {beside.level_label}
            </text>
          </g>
        )}
        {beside.expected.length > 0 && (
          <text
            x={W - EDGE.right}
            y={EDGE.top}
            textAnchor="end"
            className="fill-accent text-[13px]"
          >
            {beside.expected_label}
          </text>
        )}
      </svg>
    </div>
  );
}
