import { scaleLinear, scaleLog } from "d3-scale";
import { area, curveLinear, curveStepAfter, line } from "d3-shape";
import type { Schemas } from "../../../api/client";
import { useSize } from "../../../ui/useSize";
import { FILL, STROKE } from "./tones";

type Chart = Schemas["Chart"];
const EDGE = { left: 58, right: 18, top: 26, bottom: 42 };

/** Digits in threes as everywhere here, without commas. */
const digits = (text: string) => text.replaceAll(",", "\u202f");

/** The smallest and largest of some numbers, with a little room around. */
function extent(values: number[], room: number): [number, number] {
  const low = Math.min(...values);
  const high = Math.max(...values);
  const pad = high > low ? (high - low) * room : Math.abs(high) / 2 || 1;
  return [low - pad, high + pad];
}

/** Curves, bands and named points over two axes, as the core describes them. */
export function ChartPicture({ chart }: { chart: Chart }) {
  const { ref, width: W, height: H } = useSize<HTMLDivElement>(520, 320);
  const bands = chart.bands ?? [];
  const rules = chart.rules ?? [];
  const spots = chart.spots ?? [];
  const points = chart.series.flatMap((s) => s.points) as [number, number][];
  const xs = [...points.map((p) => p[0]), ...spots.map((s) => s.x)];
  const ys = [
    ...points.map((p) => p[1]),
    ...spots.map((s) => s.y),
    ...rules.filter((r) => r.axis === "y").map((r) => r.at),
    ...bands.filter((b) => b.axis === "y").flatMap((b) => [b.start, b.end]),
  ];
  const x = scaleLinear(extent(xs, 0.02), [EDGE.left, W - EDGE.right]);
  const positive = ys.filter((v) => v > 0);
  const y =
    chart.log_y && positive.length
      ? scaleLog(
          [Math.min(...positive) / 2, Math.max(...positive) * 2],
          [H - EDGE.bottom, EDGE.top],
        )
      : scaleLinear(extent(ys, 0.08), [H - EDGE.bottom, EDGE.top]);
  const base = chart.log_y ? H - EDGE.bottom : Math.min(y(0), H - EDGE.bottom);
  const clamp = (v: number, a: number, b: number) => Math.max(a, Math.min(b, v));
  const span = (axis: "x" | "y", start: number, end: number) => {
    const [a, b] = axis === "x" ? [x(start), x(end)] : [y(end), y(start)];
    const [low, high] = axis === "x" ? [EDGE.left, W - EDGE.right] : [EDGE.top, H - EDGE.bottom];
    return [clamp(a, low, high), clamp(b, low, high)] as const;
  };
  const named = chart.series.filter((s) => s.name);
  return (
    <div ref={ref} className="h-[300px] w-full overflow-hidden">
      <svg width={W} height={H} className="block" role="img" aria-label={chart.alt}>
        <defs>
          <pattern
            id="bench-within"
            width="7"
            height="7"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <rect width="7" height="7" className="fill-paper" />
            <path d="M0 0v7" className="stroke-line" strokeWidth="2" />
          </pattern>
        </defs>
        {bands.map((band, n) => {
          const [a, b] = span(band.axis, band.start, band.end);
          const across = band.axis === "x";
          return (
            <g key={n}>
              <rect
                x={across ? a : EDGE.left}
                y={across ? EDGE.top : a}
                width={across ? Math.max(b - a, 1) : W - EDGE.left - EDGE.right}
                height={across ? H - EDGE.top - EDGE.bottom : Math.max(b - a, 1)}
                className={band.tone === "outside" ? "fill-outside-soft" : ""}
                fill={band.tone === "outside" ? undefined : "url(#bench-within)"}
              />
              {band.label && (
                <text
                  x={across ? (a + b) / 2 : W - EDGE.right - 6}
                  y={across ? EDGE.top + 14 : a + 15}
                  textAnchor={across ? "middle" : "end"}
                  className="fill-muted text-[12px]"
                >
                  {band.label}
                </text>
              )}
            </g>
          );
        })}
        {y.ticks(chart.log_y ? 4 : 5).map((level) => (
          <g key={level}>
            <line
              x1={EDGE.left}
              x2={W - EDGE.right}
              y1={y(level)}
              y2={y(level)}
              className="stroke-line"
              strokeWidth="0.7"
            />
            {chart.y_label && (
              <text
                x={EDGE.left - 7}
                y={y(level) + 4}
                textAnchor="end"
                className="digits fill-muted text-[12px]"
              >
                {digits(y.tickFormat(chart.log_y ? 4 : 5, chart.log_y ? "~g" : undefined)(level))}
              </text>
            )}
          </g>
        ))}
        {chart.x_label &&
          x.ticks(6).map((place) => (
            <text
              key={place}
              x={x(place)}
              y={H - EDGE.bottom + 17}
              textAnchor="middle"
              className="digits fill-muted text-[12px]"
            >
              {digits(x.tickFormat(6)(place))}
            </text>
          ))}
        {rules.map((rule, n) => (
          <g key={n}>
            <line
              x1={rule.axis === "x" ? x(rule.at) : EDGE.left}
              x2={rule.axis === "x" ? x(rule.at) : W - EDGE.right}
              y1={rule.axis === "y" ? y(rule.at) : EDGE.top}
              y2={rule.axis === "y" ? y(rule.at) : H - EDGE.bottom}
              className={STROKE[rule.tone ?? "muted"]}
              strokeDasharray="5 4"
            />
            <text
              x={rule.axis === "x" ? x(rule.at) + 5 : W - EDGE.right - 6}
              y={rule.axis === "x" ? EDGE.top + 30 : y(rule.at) - 5}
              textAnchor={rule.axis === "x" ? "start" : "end"}
              className={`text-[12px] ${FILL[rule.tone ?? "muted"]}`}
            >
              {rule.label}
            </text>
          </g>
        ))}
        {chart.series.map((s, n) => {
          const tone = s.tone ?? "accent";
          const path = s.points as [number, number][];
          const seen = chart.log_y ? path.filter((p) => p[1] > 0) : path;
          if (s.style === "dots")
            return seen.map(([a, b], k) => (
              <circle key={`${n} ${k}`} cx={x(a)} cy={y(b)} r="4" className={FILL[tone]} />
            ));
          const curve = s.style === "step" ? curveStepAfter : curveLinear;
          const draw = line<[number, number]>(
            (p) => x(p[0]),
            (p) => y(p[1]),
          ).curve(curve);
          const under = area<[number, number]>(
            (p) => x(p[0]),
            base,
            (p) => y(p[1]),
          );
          return (
            <g key={n}>
              {s.fill && <path d={under(seen) ?? ""} className={FILL[tone]} opacity="0.16" />}
              <path
                d={draw(seen) ?? ""}
                fill="none"
                className={STROKE[tone]}
                strokeWidth="2.2"
                strokeDasharray={s.style === "dash" ? "6 5" : undefined}
              />
            </g>
          );
        })}
        <g className="text-[12px]">
          {named.map((s, n) => (
            <text key={s.name} x={EDGE.left + n * 128} y={14} className={FILL[s.tone ?? "accent"]}>
              {s.style === "dots" ? "● " : s.style === "dash" ? "┄ " : "━ "}
              {s.name}
            </text>
          ))}
        </g>
        {spots.map((spot, n) => {
          const right = x(spot.x) > W - 150;
          return (
            <g key={n}>
              <circle
                cx={x(spot.x)}
                cy={y(spot.y)}
                r="6"
                className={`${FILL[spot.tone ?? "accent"]} stroke-card`}
                strokeWidth="2"
              />
              <text
                x={x(spot.x) + (right ? -11 : 11)}
                y={clamp(y(spot.y) + (n % 2 ? 22 : -9), EDGE.top + 10, H - EDGE.bottom - 5)}
                textAnchor={right ? "end" : "start"}
                className="fill-ink stroke-card text-[14px] font-semibold [paint-order:stroke]"
                strokeWidth="4"
              >
                {spot.label}
              </text>
            </g>
          );
        })}
        <text
          x={(EDGE.left + W - EDGE.right) / 2}
          y={H - 6}
          textAnchor="middle"
          className="fill-muted text-[13px]"
        >
          {chart.x_label}
        </text>
        <text
          transform={`translate(14 ${(EDGE.top + H - EDGE.bottom) / 2}) rotate(-90)`}
          textAnchor="middle"
          className="fill-muted text-[13px]"
        >
          {chart.y_label}
        </text>
      </svg>
    </div>
  );
}
