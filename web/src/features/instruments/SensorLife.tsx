import { scaleLinear, scaleTime } from "d3-scale";
import type { Schemas } from "../../api/client";

type Sensor = Schemas["SensorOut"];
const WIDE = 660;
const HALF = 350;
const H = 190;
const EDGE = { left: 52, right: 14, top: 10, bottom: 24 };

/** How each sensor or component answered over the years, with the bands of its manual. */
export function SensorLife({ sensors }: { sensors: Sensor[] }) {
  return (
    <section className="rounded-2xl border border-line bg-card p-4" aria-label="Sensor life">
      <h2 className="font-semibold">
        Response over its life{" "}
        <span className="text-[14px] font-normal text-muted">in %, from the calibrations</span>
      </h2>
      <div className={sensors.length > 2 ? "grid gap-x-5 md:grid-cols-2" : ""}>
        {sensors.map((s) => (
          <div key={s.channel} className="mt-3">
            <p>
              <strong>{s.gas}</strong> {s.last && <span className="digits">{s.last}</span>}
              {s.last_on && (
                <span className="text-muted">, from the calibration of {s.last_on}</span>
              )}
            </p>
            <p className="text-[14.5px] text-muted">
              {s.advice} {s.slope && `${s.slope}.`}
              {s.replace_from &&
                ` 80 % limits of the day: ${s.replace_from} to ${s.replace_to || "later"}.`}
              {s.order_by && (
                <>
                  {" "}
                  <strong className="text-ink">Order a new one by {s.order_by}</strong>, so that it
                  is there before the early limit.
                </>
              )}
            </p>
            {s.history.length > 1 && <LifePicture s={s} W={sensors.length > 2 ? HALF : WIDE} />}
          </div>
        ))}
      </div>
    </section>
  );
}

function LifePicture({ s, W }: { s: Sensor; W: number }) {
  const days = s.history.map((p) => new Date(p.day));
  const first = days[0] ?? new Date();
  const last = s.course.at(-1)?.day;
  const limit = last ? new Date(last) : (days.at(-1) ?? first);
  const x = scaleTime([first, limit], [EDGE.left + 12, W - EDGE.right - 12]);
  const limits = (
    [
      [s.weak, "weak"],
      [s.replace, "replace"],
    ] as const
  ).filter(([level]) => level > 0);
  const values = s.history.map((p) => p.response);
  const low = limits.length ? 0 : Math.floor((Math.min(...values) - 2) / 5) * 5;
  const high = limits.length ? 110 : Math.ceil((Math.max(...values) + 2) / 5) * 5;
  const y = scaleLinear([low, high], [H - EDGE.bottom, EDGE.top]);
  return (
    <svg
      viewBox={`0 0 ${W} ${H}`}
      className="mt-1 w-full"
      role="img"
      aria-label={
        `${s.history.length} responses, last ${s.last}` +
        limits.map(([level, label]) => `; ${label} below ${level} %`).join("")
      }
    >
      {limits.map(([level, label]) => (
        <g key={label}>
          <line
            x1={EDGE.left}
            x2={W - EDGE.right}
            y1={y(level)}
            y2={y(level)}
            className={label === "weak" ? "stroke-edge" : "stroke-outside"}
            strokeDasharray="5 4"
          />
          <text
            x={W - EDGE.right}
            y={y(level) - 4}
            textAnchor="end"
            className="fill-muted text-[12px]"
          >
            {label}
          </text>
        </g>
      ))}
      {(limits.length ? [0, 50, 100] : y.ticks(3)).map((level) => (
        <text
          key={level}
          x={EDGE.left - 8}
          y={y(level) + 4}
          textAnchor="end"
          className="digits fill-muted text-[12px]"
        >
          {level}
        </text>
      ))}
      {x.ticks(W === HALF ? 2 : 4).map((day) => (
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
      {s.course.length > 0 && (
        <>
          <polygon
            points={[
              ...s.course.map((p) => `${x(new Date(p.day))},${y(p.high)}`),
              ...s.course.map((p) => `${x(new Date(p.day))},${y(p.low)}`).reverse(),
            ].join(" ")}
            className="fill-accent-soft"
          />
          <polyline
            points={s.course.map((p) => `${x(new Date(p.day))},${y(p.expected)}`).join(" ")}
            className="fill-none stroke-accent"
            strokeWidth="1.5"
            strokeDasharray="6 4"
          />
        </>
      )}
      {s.order_by && new Date(s.order_by) >= first && new Date(s.order_by) <= limit && (
        <g>
          <line
            x1={x(new Date(s.order_by))}
            x2={x(new Date(s.order_by))}
            y1={EDGE.top}
            y2={H - EDGE.bottom}
            className="stroke-accent"
          />
          <text
            x={x(new Date(s.order_by)) - 4}
            y={EDGE.top + 10}
            textAnchor="end"
            className="fill-ink text-[12px]"
          >
            order
          </text>
        </g>
      )}
      <polyline
        points={s.history.map((p) => `${x(new Date(p.day))},${y(p.response)}`).join(" ")}
        className="fill-none stroke-ink"
        strokeWidth="1.3"
      />
      {s.history.map((p) => (
        <circle
          key={p.day}
          cx={x(new Date(p.day))}
          cy={y(p.response)}
          r="5"
          strokeWidth="2"
          className={p.replaced ? "fill-accent stroke-accent" : "fill-card stroke-ink"}
        />
      ))}
    </svg>
  );
}
