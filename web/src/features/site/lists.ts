import { queryOptions, useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { client, unwrap, type Schemas } from "../../api/client";
import { sendFile } from "../../api/lines";

export type ListKind = Schemas["ListOut"];
export type Progress = Schemas["Progress"];
export type Row = {
  row: number;
  key: string;
  fate: "new" | "changed" | "unchanged" | "refused";
  differs: { column: string; before: string; after: string }[];
  wrong: { field: string; message: string; remedy: string }[];
};
export type Preview = {
  mark: string;
  sums: Record<string, number>;
  rows: Row[];
  unknown: string[];
  kept: boolean;
};

export const listsQuery = queryOptions({
  queryKey: ["lists"] as const,
  staleTime: Infinity,
  queryFn: ({ signal }) => unwrap(client.GET("/api/v1/lists", { signal })),
});

/** Looks at a file, or stores what was looked at; says how far it is on the way. */
export function useBringIn(kind: string) {
  const queries = useQueryClient();
  const [progress, setProgress] = useState<Progress | null>(null);
  const bring = useMutation({
    mutationFn: async ({ file, accept }: { file: File; accept: string }) => {
      const form = new FormData();
      form.set("file", file);
      form.set("accept", accept);
      let found: Preview | null = null;
      let told = false;
      await sendFile<Progress | Preview>(`api/v1/lists/${kind}`, form, (line) => {
        if ("doing" in line) {
          setProgress(line);
          if (accept && !told) void queries.invalidateQueries({ queryKey: broughtQuery.queryKey });
          told = true;
        } else found = line;
      });
      return found as Preview | null;
    },
    onSettled: () => {
      setProgress(null);
      void queries.invalidateQueries({ queryKey: broughtQuery.queryKey });
    },
    onSuccess: (found) => {
      if (found?.kept) void queries.invalidateQueries();
    },
  });
  return { bring, progress };
}

export type Brought = Schemas["BroughtOut"];

/** Lists that are being stored or were lately; looked at again while one is under way. */
export const broughtQuery = queryOptions({
  queryKey: ["lists", "brought"] as const,
  queryFn: ({ signal }) => unwrap(client.GET("/api/v1/lists/brought", { signal })),
  refetchInterval: ({ state }) => (state.data?.some((b) => underWay(b)) ? 1500 : 10_000),
});

export const underWay = (one: Brought) => one.state === "waiting" || one.state === "running";

export function useBrought() {
  const queries = useQueryClient();
  const onSettled = () => queries.invalidateQueries({ queryKey: broughtQuery.queryKey });
  const path = (id: number) => ({ params: { path: { id } } });
  const stop = useMutation({
    mutationFn: (id: number) => unwrap(client.POST("/api/v1/lists/brought/{id}/stop", path(id))),
    onSettled,
  });
  const goOn = useMutation({
    mutationFn: (id: number) => unwrap(client.POST("/api/v1/lists/brought/{id}/go-on", path(id))),
    onSettled,
  });
  const takeBack = useMutation({
    mutationFn: ({ id, reason }: { id: number; reason: string }) =>
      unwrap(
        client.POST("/api/v1/lists/brought/{id}/take-back", { ...path(id), body: { reason } }),
      ),
    onSettled,
  });
  return { stop, goOn, takeBack };
}

export function useSynonym(kind: string) {
  return useMutation({
    mutationFn: (body: Schemas["SynonymIn"]) =>
      unwrap(client.POST("/api/v1/lists/{kind}/synonyms", { params: { path: { kind } }, body })),
  });
}
