import { scaleLinear } from "d3-scale";
import type { Point, RunState } from "../../api/client";

type Along = {
  /** Where a point lies along the picture. */
  at: (point: Point) => number;
  ends: [number, number];
  ticks: { at: number; label: string }[];
  /** The whole range is drawn, so a line along it says something. */
  whole: boolean;
};

/** Along the range; along the part of it that is reached; or in turn, where all lie at one place. */
export function alongOf(run: RunState): Along {
  const places = run.points.map((p) => p.input_percent);
  const most = Math.max(...places);
  if (run.pictured)
    return {
      at: (p) => p.input_percent,
      ends: [0, 100],
      ticks: [0, 25, 50, 75, 100].map((at) => ({ at, label: at === 100 ? "100 %" : `${at}` })),
      whole: true,
    };
  if (inTurn(run))
    return {
      at: (p) => p.index + 1,
      ends: [0.5, places.length + 0.5],
      ticks: run.points
        .filter((p) => places.length < 13 || p.index % 5 === 4)
        .map((p) => ({ at: p.index + 1, label: `${p.index + 1}` })),
      whole: false,
    };
  const ticks = scaleLinear([0, most], [0, 1]).ticks(4);
  return {
    at: (p) => p.input_percent,
    ends: [0, most],
    ticks: ticks.map((at) => ({ at, label: at === ticks.at(-1) ? `${at} %` : `${at}` })),
    whole: false,
  };
}

/** All points lie at one place of the range: they are drawn one after the other. */
export const inTurn = (run: RunState) =>
  !run.pictured && new Set(run.points.map((p) => p.input_percent)).size < 2;

/** Errors in the unit in which they are said: the scale, and its ticks with a sign. */
export function acrossOf(run: RunState, mostPercent: number, range: [number, number]) {
  const most = mostPercent * run.axis.per_percent;
  const scale = scaleLinear([-most, most], range);
  const text = scale.tickFormat(5, "+f");
  return {
    y: (percent: number) => scale(percent * run.axis.per_percent),
    ticks: scale.ticks(5).map((level) => ({
      at: scale(level),
      label: level === 0 ? "0" : text(level).replace("-", "−"),
    })),
  };
}
