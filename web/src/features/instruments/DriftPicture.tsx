import { scaleLinear, scaleTime } from "d3-scale";
import type { Schemas } from "../../api/client";

type Past = Schemas["PastOut"];
const W = 660;
const H = 230;
const EDGE = { left: 52, right: 14, top: 12, bottom: 26 };

/** Largest errors over time: hollow as found, full as left, with the tolerance corridor. */
export function DriftPicture({ past }: { past: Past[] }) {
  const known = past.filter((p) => p.in_picture).reverse();
  const renewed = known[0]?.new_sensor ? known[0].day : "";
  const limit = Math.max(...known.map((p) => p.limit ?? 0));
  const shown = String(Number(limit.toFixed(2)));
  if (known.length < 2)
    return (
      <p className="p-4 text-muted">
        {renewed && `Another sensor since ${renewed}. `}A picture of the drift needs two signed
        jobs, or results from before.
      </p>
    );
  const sizes = known.flatMap((p) => [p.found_error ?? 0, p.left_error ?? 0]).map(Math.abs);
  const most = Math.max(limit, ...sizes) * 1.2;
  const days = known.map((p) => new Date(p.day));
  const x = scaleTime(
    [days[0] ?? new Date(), days.at(-1) ?? new Date()],
    [EDGE.left + 12, W - EDGE.right - 12],
  );
  const y = scaleLinear([-most, most], [H - EDGE.bottom, EDGE.top]);
  const at = (p: Past) => x(new Date(p.day));
  return (
    <svg
      viewBox={`0 0 ${W} ${H}`}
      className="w-full"
      role="img"
      aria-label={`Largest error of ${known.length} jobs against a limit of ±${shown} % of span${renewed ? `; another sensor since ${renewed}` : ""}`}
    >
      <rect
        x={EDGE.left}
        width={W - EDGE.left - EDGE.right}
        y={y(limit)}
        height={y(-limit) - y(limit)}
        className="fill-sunk"
      />
      {[limit, 0, -limit].map((level) => (
        <g key={level}>
          <line
            x1={EDGE.left}
            x2={W - EDGE.right}
            y1={y(level)}
            y2={y(level)}
            className="stroke-muted"
            strokeWidth={level ? 1.2 : 0.7}
          />
          <text
            x={EDGE.left - 8}
            y={y(level) + 4}
            textAnchor="end"
            className="digits fill-muted text-[12px]"
          >
            {level > 0 ? `+${shown}` : level < 0 ? `−${shown}` : "0"}
          </text>
        </g>
      ))}
      {x.ticks(3).map((day) => (
        <text
          key={day.toISOString()}
          x={x(day)}
          y={H - 6}
          textAnchor="middle"
          className="digits fill-muted text-[12px]"
        >
          {day.toISOString().slice(0, 7)}
        </text>
      ))}
      {known.slice(1).map((p, i) => {
        const before = known[i];
        return before ? (
          <line
            key={p.job || `${p.day} ${p.paper}`}
            x1={at(before)}
            y1={y(before.left_error ?? 0)}
            x2={at(p)}
            y2={y(p.found_error ?? 0)}
            className="stroke-ink"
            strokeWidth="1.2"
          />
        ) : null;
      })}
      {renewed && (
        <text x={EDGE.left + 12} y={EDGE.top + 12} className="fill-muted text-[12px]">
          another sensor since {renewed}
        </text>
      )}
      {known.map((p) => (
        <g key={p.job || `${p.day} ${p.paper}`}>
          {p.adjusted && p.found_error !== null && (
            <line
              x1={at(p)}
              x2={at(p)}
              y1={y(p.found_error ?? 0)}
              y2={y(p.left_error ?? 0)}
              className="stroke-accent"
              strokeWidth="1.6"
              strokeDasharray="3 3"
            />
          )}
          {p.found_error !== null && (
            <rect
              x={at(p) - 5}
              y={y(p.found_error) - 5}
              width="10"
              height="10"
              rx={p.job ? 5 : 0}
              strokeWidth="2"
              className={`fill-card ${p.mark_found === "outside" ? "stroke-outside" : "stroke-ink"}`}
            />
          )}
          {(p.adjusted || p.found_error === null) && (
            <circle cx={at(p)} cy={y(p.left_error ?? 0)} r="5" className="fill-accent" />
          )}
        </g>
      ))}
    </svg>
  );
}
