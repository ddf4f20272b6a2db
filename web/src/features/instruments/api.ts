import { queryOptions, useMutation, useQueryClient } from "@tanstack/react-query";
import { client, unwrap, type Schemas } from "../../api/client";

export type Instrument = Schemas["InstrumentOut"];

export const oneQuery = (tag: string) =>
  queryOptions({
    queryKey: ["instruments", "one", tag] as const,
    queryFn: async ({ signal }) =>
      unwrap(client.GET("/api/instruments/{tag}", { params: { path: { tag } }, signal })),
  });

/** Sets a parameter of one instrument, as its manual says. */
export function useChangeParameter(tag: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["ParameterIn"]) =>
      unwrap(client.POST("/api/instruments/{tag}/parameters", { params: { path: { tag } }, body })),
    onSuccess: (fresh) => queries.setQueryData(oneQuery(tag).queryKey, fresh),
  });
}

/** Plans one more method at an instrument. */
export function usePlanMethod(tag: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["PlanIn"]) =>
      unwrap(client.POST("/api/instruments/{tag}/plans", { params: { path: { tag } }, body })),
    onSuccess: (fresh) => queries.setQueryData(oneQuery(tag).queryKey, fresh),
  });
}

/** Plans a method at an instrument no more. */
export function useDropPlan(tag: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["DropIn"]) =>
      unwrap(client.POST("/api/instruments/{tag}/plans/drop", { params: { path: { tag } }, body })),
    onSuccess: (fresh) => queries.setQueryData(oneQuery(tag).queryKey, fresh),
  });
}
