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

/** Chooses another method for an instrument. */
export function useChangeMethod(tag: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["MethodIn"]) =>
      unwrap(client.POST("/api/instruments/{tag}/method", { params: { path: { tag } }, body })),
    onSuccess: (fresh) => queries.setQueryData(oneQuery(tag).queryKey, fresh),
  });
}
