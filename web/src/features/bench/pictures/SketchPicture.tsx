import type { ReactElement } from "react";
import type { Schemas } from "../../../api/client";

type Sketch = Schemas["Sketch"];

/** A thing of the plant, drawn to the shares that the core gives. */
export function SketchPicture({ picture }: { picture: Sketch }) {
  const Draw = THINGS[picture.thing];
  return <Draw {...picture} />;
}

const LABEL = "fill-ink text-[14px]";
const SMALL = "fill-muted text-[13px]";

/** The displacer in its chamber at one level, and the weights that stand for all levels. */
function Displacer({ alt, shares, texts }: Sketch) {
  const level = shares.level ?? 0;
  const weights = Object.keys(shares)
    .filter((k) => k.startsWith("weight"))
    .slice(0, 6);
  const surface = 270 - 190 * level;
  return (
    <svg viewBox="0 0 520 310" className="w-full" role="img" aria-label={alt}>
      <rect x="30" y="50" width="100" height="240" rx="12" className="fill-sunk stroke-ink" />
      <rect
        x="31"
        y={surface}
        width="98"
        height={289 - surface}
        rx="11"
        className="fill-accent-soft"
      />
      <path d={`M31 ${surface}h98`} className="stroke-accent" strokeWidth="2" />
      <path d="M80 20v60" className="stroke-ink" strokeWidth="2" />
      <path d="M60 20h110" className="stroke-ink" strokeWidth="4" />
      <rect
        x="62"
        y="80"
        width="36"
        height="190"
        rx="6"
        className="fill-card stroke-ink"
        strokeWidth="2"
      />
      <text x="140" y={surface + 5} className={LABEL}>
        {texts.level}
      </text>
      <text x="30" y="306" className={SMALL}>
        {texts.displacer}
      </text>
      {weights.map((key, n) => {
        const tall = 150 * (shares[key] ?? 0);
        const x = 208 + n * 52;
        return (
          <g key={key}>
            <path d={`M${x + 19} 44v${150 - tall + 20}`} className="stroke-muted" />
            <rect
              x={x}
              y={214 - tall}
              width="38"
              height={tall}
              rx="5"
              className="fill-accent"
              opacity={0.95 - 0.12 * n}
            />
            <text x={x + 19} y="236" textAnchor="middle" className={LABEL}>
              {(texts[key] ?? "").split(": ")[0]}
            </text>
            <text x={x + 19} y="254" textAnchor="middle" className="digits fill-ink text-[12px]">
              {(texts[key] ?? "").split(": ")[1]?.replace(" g", "")}
            </text>
          </g>
        );
      })}
      <path d="M200 44h304" className="stroke-ink" strokeWidth="3" />
      <text x="204" y="30" className={SMALL}>
        hang instead of the displacer, in g
      </text>
    </svg>
  );
}

/** A vessel with its taps, the low-side leg and the transmitter, to scale in height. */
function Vessel({ alt, shares, texts }: Sketch) {
  const y = (name: string) => 290 - 260 * (shares[name] ?? 0);
  const wet = (shares.leg ?? 0) > 0;
  return (
    <svg viewBox="0 0 520 320" className="w-full" role="img" aria-label={alt}>
      <rect
        x="60"
        y="20"
        width="150"
        height="285"
        rx="18"
        className="fill-sunk stroke-ink"
        strokeWidth="2"
      />
      <rect
        x="61"
        y={y("100 %")}
        width="148"
        height={Math.max(304 - y("100 %"), 2)}
        rx="12"
        className="fill-accent-soft"
      />
      {["0 %", "100 %"].map((mark) => (
        <g key={mark}>
          <path
            d={`M60 ${y(mark)}h150`}
            className="stroke-accent"
            strokeWidth="2"
            strokeDasharray="6 4"
          />
          <text x="330" y={y(mark) + 5} className={LABEL}>
            {texts[mark]}
          </text>
          <path d={`M214 ${y(mark)}h110`} className="stroke-line" strokeWidth="1.5" />
        </g>
      ))}
      <path
        d={`M210 ${y("lower tap")}h40V${y("transmitter")}`}
        fill="none"
        className="stroke-ink"
        strokeWidth="5"
      />
      <path
        d={`M210 ${y("upper tap")}h80V${y("transmitter")}`}
        fill="none"
        className={wet ? "stroke-accent" : "stroke-muted"}
        strokeWidth="5"
        strokeDasharray={wet ? undefined : "3 5"}
      />
      <circle
        cx="270"
        cy={y("transmitter")}
        r="17"
        className="fill-card stroke-ink"
        strokeWidth="2.5"
      />
      <text x="270" y={y("transmitter") + 5} textAnchor="middle" className={LABEL}>
        Δp
      </text>
      <text x="298" y={y("transmitter") + 22} className={SMALL}>
        {wet ? "filled leg" : "dry or open leg"}
      </text>
    </svg>
  );
}

/** The bridge of the load cells: excitation across, signal out. */
function Bridge({ alt, shares, texts }: Sketch) {
  const load = shares.load ?? 0;
  const corners = [
    [150, 40],
    [270, 150],
    [150, 260],
    [30, 150],
  ] as const;
  return (
    <svg viewBox="0 0 520 310" className="w-full" role="img" aria-label={alt}>
      <path
        d={`M${corners.map((c) => c.join(" ")).join("L")}Z`}
        fill="none"
        className="stroke-muted"
        strokeWidth="2"
      />
      {corners.map((c, n) => {
        const d = corners[(n + 1) % 4] ?? c;
        const [mx, my] = [(c[0] + d[0]) / 2, (c[1] + d[1]) / 2];
        return (
          <g key={n} transform={`translate(${mx} ${my}) rotate(${n % 2 ? -42 : 42})`}>
            <rect
              x="-26"
              y="-11"
              width="52"
              height="22"
              rx="4"
              className="fill-card stroke-ink"
              strokeWidth="2"
            />
            <path
              d={n % 2 ? "M-16 0h32" : "M-16 0h32M0-6v12"}
              className={n % 2 ? "stroke-muted" : "stroke-accent"}
              strokeWidth="2.5"
            />
          </g>
        );
      })}
      <path d="M150 40V14h160M150 260v34h160" fill="none" className="stroke-ink" strokeWidth="2" />
      <text x="318" y="19" className={LABEL}>
        excitation {texts.excitation}
      </text>
      <path d="M270 150h50" className="stroke-accent" strokeWidth="3" />
      <text x="330" y="146" className="digits fill-ink text-[22px] font-semibold">
        {texts.signal}
      </text>
      <text x="330" y="168" className={SMALL}>
        {texts.ratio}
      </text>
      <rect x="330" y="212" width="170" height="20" rx="6" className="fill-sunk" />
      <rect x="330" y="212" width={170 * load} height="20" rx="6" className="fill-accent" />
      <text x="330" y="252" className={SMALL}>
        {texts.load}
      </text>
    </svg>
  );
}

/** A belt over its pulleys with the weighed stretch. */
function Belt({ alt, texts }: Sketch) {
  return (
    <svg viewBox="0 0 520 240" className="w-full" role="img" aria-label={alt}>
      <path
        d="M80 70h360a40 40 0 0 1 0 80H80a40 40 0 0 1 0-80z"
        fill="none"
        className="stroke-ink"
        strokeWidth="6"
      />
      {[80, 440].map((cx) => (
        <circle
          key={cx}
          cx={cx}
          cy="110"
          r="32"
          className="fill-sunk stroke-muted"
          strokeWidth="2"
        />
      ))}
      {[160, 220, 300, 360].map((cx) => (
        <circle key={cx} cx={cx} cy="80" r="8" className="fill-card stroke-muted" strokeWidth="2" />
      ))}
      <circle cx="260" cy="80" r="9" className="fill-accent" />
      <path d="M260 90v34M238 124h44" className="stroke-accent" strokeWidth="4" />
      <path d="M190 52h120m-12-9 14 9-14 9" fill="none" className="stroke-accent" strokeWidth="3" />
      <text x="250" y="36" textAnchor="middle" className={LABEL}>
        {texts.speed}
      </text>
      <text x="260" y="182" textAnchor="middle" className={SMALL}>
        one revolution is {texts.length}
      </text>
      <text
        x="260"
        y="220"
        textAnchor="middle"
        className="digits fill-ink text-[26px] font-semibold"
      >
        {texts.turns} = {texts.time}
      </text>
    </svg>
  );
}

/** What is done and what is still open. */
function Checklist({ alt, texts, lines }: Sketch) {
  return (
    <div role="img" aria-label={alt} className="py-3">
      <p className="text-xl font-semibold">{texts.verdict}</p>
      <ul className="mt-3 grid gap-2">
        {(lines ?? []).map((text) => (
          <li key={text} className="flex items-center gap-3 rounded-lg bg-sunk px-3 py-2">
            <span aria-hidden="true" className="w-5 text-xl leading-none">
              {text.slice(0, 1)}
            </span>
            {text.slice(2)}
          </li>
        ))}
      </ul>
    </div>
  );
}

const THINGS: Record<Sketch["thing"], (picture: Sketch) => ReactElement> = {
  displacer: Displacer,
  vessel: Vessel,
  bridge: Bridge,
  belt: Belt,
  checklist: Checklist,
};
