/** What of today's list is looked at; empty fields leave everything in. */
export type Filter = {
  q: string;
  area: string;
  kind: string;
  only: "" | "mine" | "failed";
  page: number;
};

export const EVERYTHING: Filter = { q: "", area: "", kind: "", only: "", page: 1 };
