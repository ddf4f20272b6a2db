import { keepPreviousData, queryOptions, useMutation, useQueryClient } from "@tanstack/react-query";
import { client, unwrap, type Schemas } from "../../api/client";

/** What is looked for; it stands in the address, so that a view can be kept and sent on. */
export type Sought = { q: string; area: string; kind: string; state: string };
export type Those = Schemas["ThoseIn"];
export type Found = Schemas["SearchOut"];

const NAMES = ["q", "area", "kind", "state"] as const;

export const soughtIn = (params: URLSearchParams): Sought => ({
  q: params.get("q") ?? "",
  area: params.get("area") ?? "",
  kind: params.get("kind") ?? "",
  state: params.get("state") ?? "",
});

export const asAddress = (sought: Sought, page = 1): URLSearchParams => {
  const params = new URLSearchParams();
  for (const name of NAMES) if (sought[name]) params.set(name, sought[name]);
  if (page > 1) params.set("page", String(page));
  return params;
};

export const findQuery = (sought: Sought, page: number) =>
  queryOptions({
    queryKey: ["instruments", "find", sought, page] as const,
    queryFn: async ({ signal }) =>
      unwrap(client.GET("/api/v1/instruments", { params: { query: { ...sought, page } }, signal })),
    placeholderData: keepPreviousData,
  });

export const methodsOfQuery = (those: Those) =>
  queryOptions({
    queryKey: ["methodsOf", those] as const,
    queryFn: ({ signal }) =>
      unwrap(client.POST("/api/v1/together/methods", { body: those, signal })),
  });

/** Everything that shows an instrument or what is due is asked for again. */
function useAfterwards() {
  const queries = useQueryClient();
  return () => {
    void queries.invalidateQueries({ queryKey: ["instruments"] });
    void queries.invalidateQueries({ queryKey: ["today"] });
  };
}

export function useMoveTogether() {
  const onSuccess = useAfterwards();
  return useMutation({
    mutationFn: (body: Schemas["MoveTogether"]) =>
      unwrap(client.POST("/api/v1/together/due", { body })),
    onSuccess,
  });
}

export function usePlanTogether() {
  const onSuccess = useAfterwards();
  return useMutation({
    mutationFn: (body: Schemas["PlanTogether"]) =>
      unwrap(client.POST("/api/v1/together/plans", { body })),
    onSuccess,
  });
}
