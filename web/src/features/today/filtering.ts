import type { Schemas } from "../../api/client";

type Area = Schemas["AreaOut"];
type Due = Schemas["DueOut"];

/** What of today's list is looked at; empty fields leave everything in. */
export type Filter = { words: string; area: string; family: string; only: "" | "mine" | "failed" };

export const EVERYTHING: Filter = { words: "", area: "", family: "", only: "" };

const fits = (due: Due, area: string, f: Filter, me: string) => {
  const text = `${due.tag} ${due.description} ${area} ${due.range}`.toLowerCase();
  return (
    f.words
      .toLowerCase()
      .split(/\s+/)
      .every((word) => text.includes(word)) &&
    (!f.area || area === f.area) &&
    (!f.family || due.family === f.family) &&
    (f.only !== "mine" || due.opened_by === me) &&
    (f.only !== "failed" || due.failed)
  );
};

/** The areas with what is looked at in them. */
export const filtered = (areas: Area[], filter: Filter, me: string): Area[] =>
  areas
    .map((a) => ({ ...a, due: a.due.filter((d) => fits(d, a.name, filter, me)) }))
    .filter((a) => a.due.length > 0);
