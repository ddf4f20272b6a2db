import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import type { Point, RunState } from "../../api/client";
import { useSize } from "../../ui/useSize";
import { acrossOf, alongOf } from "./errorAxes";

const EDGE = { left: 56, right: 12, top: 10, bottom: 26 };

/** What the picture shows, as a sentence. */
const said = (run: RunState, taken: number, bound: number) =>
  `Error across the range of ${run.title.toLowerCase()}: ` +
  (taken === 0
    ? `nothing is read yet; the limit is ±${bound} ${run.axis.unit}.`
    : `${taken} readings, the largest error is ${run.worst}, the limit is ±${bound} ${run.axis.unit}.`);

type Props = { run: RunState; before?: RunState; current: boolean };

/** Error against range: corridor of the tolerance, up and down told apart by where they point. */
export function ErrorPicture({ run, before, current }: Props) {
  const { ref, width: W, height: H } = useSize<HTMLDivElement>(440, 330);
  const taken = run.points.filter((p) => p.error);
  const earlier = before?.points.filter((p) => p.error) ?? [];
  const bound = Math.max(...run.points.map((p) => p.limit_percent));
  const along = alongOf(run);
  const edge = limitAlong(run.points, along);
  const sizes = [...taken, ...earlier].map((p) => Math.abs(p.error_percent));
  const most = Math.max(bound * 1.7, ...sizes.map((s) => s * 1.2));
  const x = scaleLinear(along.ends, [EDGE.left + 14, W - EDGE.right - 14]);
  const { y, ticks } = acrossOf(run, most, [H - EDGE.bottom, EDGE.top]);
  const next = current ? run.points[run.current] : undefined;
  return (
    <div ref={ref} className="min-h-0 flex-1">
      <svg
        width={W}
        height={H}
        className="block"
        role="img"
        aria-label={said(run, taken.length, Number((bound * run.axis.per_percent).toPrecision(3)))}
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
        {ticks.map(({ at, label }) => (
          <text
            key={label}
            x={EDGE.left - 8}
            y={at + 4}
            textAnchor="end"
            className="digits fill-muted text-[12px]"
          >
            {label}
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
        {along.ticks.map(({ at, label }) => (
          <text
            key={at}
            x={x(at)}
            y={H - 6}
            textAnchor="middle"
            className="digits fill-muted text-[12px]"
          >
            {label}
          </text>
        ))}
        {next && (
          <line
            x1={x(along.at(next))}
            x2={x(along.at(next))}
            y1={EDGE.top}
            y2={H - EDGE.bottom}
            className="stroke-accent"
            strokeDasharray="3 5"
          />
        )}
        <Curve points={earlier} x={(p) => x(along.at(p))} y={y} faint />
        <Curve points={taken} x={(p) => x(along.at(p))} y={y} />
        {along.whole && taken.length > 2 && (
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
        {along.whole && run.fit_text && taken.length > 2 && (
          <text
            x={W - EDGE.right - 4}
            y={run.fit_zero + run.fit_span > 0 ? H - EDGE.bottom - 8 : EDGE.top + 14}
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
function limitAlong(points: Point[], { at, ends }: ReturnType<typeof alongOf>): Edge[] {
  const sorted = [...points].sort((a, b) => at(a) - at(b));
  const edge = sorted.map((p) => ({ at: at(p), limit: p.limit_percent }));
  const steps = edge.filter((e, i) => i === 0 || e.at > (edge[i - 1]?.at ?? 0) + 0.5);
  // A limit that is the same everywhere is drawn all along.
  const same = steps.every((s) => s.limit === steps[0]?.limit);
  return same ? ends.map((end) => ({ at: end, limit: steps[0]?.limit ?? 0 })) : steps;
}

const alongLimit = (edge: Edge[], side: number, x: Scale, y: Scale) =>
  line<Edge>(
    (e) => x(e.at),
    (e) => y(side * e.limit),
  )(edge) ?? "";

const corridor = (edge: Edge[], x: Scale, y: Scale) =>
  `${alongLimit(edge, 1, x, y)}${alongLimit([...edge].reverse(), -1, x, y).replace("M", "L")}Z`;

type CurveProps = { points: Point[]; x: (p: Point) => number; y: Scale; faint?: boolean };

function Curve({ points, x, y, faint = false }: CurveProps) {
  const path = line<Point>(x, (p) => y(p.error_percent));
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
          transform={`translate(${x(p)} ${y(p.error_percent)})`}
          d={p.direction === "up" ? "M0 -8 7 6h-14z" : "M0 8 7 -6h-14z"}
          strokeWidth="2.2"
          className={
            p.mark === "outside"
              ? "fill-card stroke-outside"
              : p.mark === "near"
                ? "fill-card stroke-edge"
                : p.mark === "within"
                  ? "fill-within stroke-within"
                  : "fill-card stroke-ink"
          }
        />
      ))}
    </g>
  );
}
