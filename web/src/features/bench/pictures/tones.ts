import type { Schemas } from "../../../api/client";

export type Tone = NonNullable<Schemas["Series"]["tone"]>;

export const STROKE: Record<Tone, string> = {
  ink: "stroke-ink",
  muted: "stroke-muted",
  accent: "stroke-accent",
  within: "stroke-within",
  edge: "stroke-edge",
  outside: "stroke-outside",
};
export const FILL: Record<Tone, string> = {
  ink: "fill-ink",
  muted: "fill-muted",
  accent: "fill-accent",
  within: "fill-within",
  edge: "fill-edge",
  outside: "fill-outside",
};
export const GROUND: Record<Tone, string> = {
  ink: "bg-ink text-card",
  muted: "bg-line text-ink",
  accent: "bg-accent text-on-accent",
  within: "bg-within text-card",
  edge: "bg-edge text-card",
  outside: "bg-outside text-card",
};
