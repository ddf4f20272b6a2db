import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import type { Point, RunState } from "../../api/client";
import { useSize } from "../../ui/useSize";

const EDGE = { left: 50, right: 12, top: 10, bottom: 26 };

/** What the picture shows, as a sentence. */
const said = (run: RunState, taken: number, bound: number) =>
  taken === 0
    ? `Error across the range of ${run.title.toLowerCase()}: nothing is read yet; the limit is ±${bound} % of span.`
    : `Error across the range of ${run.title.toLowerCase()}: ${taken} readings, the largest error is ${run.worst}, the limit is ±${bound} %.`;

type Props = { run: RunState; before?: RunState; current: boolean };

/** Error against range: corridor of the tolerance, up and down told apart by where they point. */
export function ErrorPicture({ run, before, current }: Props) {
  const { ref, width: W, height: H } = useSize<HTMLDivElement>(440, 330);
  const taken = run.points.filter((p) => p.event);
  const earlier = before?.points.filter((p) => p.event) ?? [];
  const bound = Math.max(...run.points.map((p) => p.limit_percent));
  const edge = limitAlong(run.points);
  const sizes = [...taken, ...earlier].map((p) => Math.abs(p.error_percent));
  const most = Math.max(bound * 1.7, ...sizes.map((s) => s * 1.2));
  const x = scaleLinear([0, 100], [EDGE.left + 14, W - EDGE.right - 14]);
  const y = scaleLinear([-most, most], [H - EDGE.bottom, EDGE.top]);
  const next = current ? run.points[run.current] : undefined;
  return (
    <div ref={ref} className="min-h-0 flex-1">
      <svg
        width={W}
        height={H}
        className="block"
        role="img"
        aria-label={said(run, taken.length, bound)}
      >
        <defs>
          <clipPath id="plot">
            <rect
              x={EDGE.left}
              y={EDGE.top}
              width={W - EDGE.left - EDGE.right}
              height={H - EDGE.top - EDGE.bottom}
            />
          </clipPath>
          <pattern
            id="corridor"
            width="7"
            height="7"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <rect width="7" height="7" className="fill-paper" />
            <path d="M0 0v7" className="stroke-line" strokeWidth="2" />
          </pattern>
        </defs>
        <path d={corridor(edge, x, y)} fill="url(#corridor)" />
        {y.ticks(5).map((level) => (
          <text
            key={level}
            x={EDGE.left - 8}
            y={y(level) + 4}
            textAnchor="end"
            className="digits fill-muted text-[12px]"
          >
            {signed(level)}
          </text>
        ))}
        <line
          x1={EDGE.left}
          x2={W - EDGE.right}
          y1={y(0)}
          y2={y(0)}
          className="stroke-muted"
          strokeWidth="0.8"
        />
        {[1, -1].map((side) => (
          <path
            key={side}
            d={alongLimit(edge, side, x, y)}
            className="fill-none stroke-ink"
            strokeWidth="1.3"
          />
        ))}
        {[0, 25, 50, 75, 100].map((percent) => (
          <text
            key={percent}
            x={x(percent)}
            y={H - 6}
            textAnchor="middle"
            className="digits fill-muted text-[12px]"
          >
            {percent}
            {percent === 100 ? " %" : ""}
          </text>
        ))}
        {next && (
          <line
            x1={x(next.input_percent)}
            x2={x(next.input_percent)}
            y1={EDGE.top}
            y2={H - EDGE.bottom}
            className="stroke-accent"
            strokeDasharray="3 5"
          />
        )}
        <Curve points={earlier} x={x} y={y} faint />
        <Curve points={taken} x={x} y={y} />
        {taken.length > 2 && (
          <line
            x1={x(0)}
            x2={x(100)}
            y1={y(run.fit_zero)}
            y2={y(run.fit_zero + run.fit_span)}
            className="stroke-accent"
            strokeWidth="1.4"
            strokeDasharray="1 5"
            clipPath="url(#plot)"
            strokeLinecap="round"
          />
        )}
        {run.fit_text && taken.length > 2 && (
          <text
            x={W - EDGE.right - 4}
            y={H - EDGE.bottom - 8}
            textAnchor="end"
            className="fill-accent text-[13px]"
          >
            {run.fit_text}
          </text>
        )}
      </svg>
    </div>
  );
}

type Scale = (value: number) => number;
type Edge = { at: number; limit: number };

/** The limit along the range, once for each place; it may be wider where the value is larger. */
function limitAlong(points: Point[]): Edge[] {
  const sorted = [...points].sort((a, b) => a.input_percent - b.input_percent);
  const edge = sorted.map((p) => ({ at: p.input_percent, limit: p.limit_percent }));
  const steps = edge.filter((e, i) => i === 0 || e.at > (edge[i - 1]?.at ?? 0) + 0.5);
  // The limit at a single place is drawn all along.
  return steps.length === 1 ? [0, 100].map((at) => ({ at, limit: steps[0]?.limit ?? 0 })) : steps;
}

const alongLimit = (edge: Edge[], side: number, x: Scale, y: Scale) =>
  line<Edge>(
    (e) => x(e.at),
    (e) => y(side * e.limit),
  )(edge) ?? "";

const corridor = (edge: Edge[], x: Scale, y: Scale) =>
  `${alongLimit(edge, 1, x, y)}${alongLimit([...edge].reverse(), -1, x, y).replace("M", "L")}Z`;

type CurveProps = { points: Point[]; x: Scale; y: Scale; faint?: boolean };

function Curve({ points, x, y, faint = false }: CurveProps) {
  const path = line<Point>(
    (p) => x(p.input_percent),
    (p) => y(p.error_percent),
  );
  const up = points.filter((p) => p.direction === "up");
  const down = points.filter((p) => p.direction === "down");
  const turn = up.at(-1);
  return (
    <g opacity={faint ? 0.35 : 1}>
      <path d={path(up) ?? ""} className="fill-none stroke-ink" strokeWidth="1.3" />
      <path
        d={path(turn ? [turn, ...down] : down) ?? ""}
        className="fill-none stroke-ink"
        strokeWidth="1.3"
        strokeDasharray="4 4"
      />
      {points.map((p) => (
        <path
          key={p.index}
          transform={`translate(${x(p.input_percent)} ${y(p.error_percent)})`}
          d={p.direction === "up" ? "M0 -8 7 6h-14z" : "M0 8 7 -6h-14z"}
          strokeWidth="2.2"
          className={
            p.mark === "outside"
              ? "fill-card stroke-outside"
              : p.mark === "near"
                ? "fill-card stroke-edge"
                : "fill-within stroke-within"
          }
        />
      ))}
    </g>
  );
}

const signed = (level: number) =>
  level === 0 ? "0" : `${level > 0 ? "+" : "−"}${Math.abs(level).toFixed(1)}`;
