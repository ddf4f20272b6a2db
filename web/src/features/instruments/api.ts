import { queryOptions, useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, client, unwrap, type Schemas } from "../../api/client";

export type Instrument = Schemas["InstrumentOut"];

export const oneQuery = (tag: string) =>
  queryOptions({
    queryKey: ["instruments", "one", tag] as const,
    queryFn: async ({ signal }) =>
      unwrap(client.GET("/api/v1/instruments/{tag}", { params: { path: { tag } }, signal })),
  });

/** The version of a plan as it was read; once somebody else was first, as it is now. */
export function useReadPlan(tag: string, plan: Instrument["plans"][number]) {
  const queries = useQueryClient();
  const [version, setVersion] = useState(plan.version);
  const lookAgain = async (error: Error) => {
    if (!(error instanceof ApiError) || error.problem.code !== "version.old") return;
    const fresh = await queries.fetchQuery({ ...oneQuery(tag), staleTime: 0 });
    const now = fresh.plans.find((p) => p.method.id === plan.method.id);
    setVersion(now?.version ?? "");
  };
  return { version, lookAgain };
}

/** Sets a parameter of one instrument, as its manual says. */
export function useChangeParameter(tag: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["ParameterIn"]) =>
      unwrap(
        client.POST("/api/v1/instruments/{tag}/parameters", { params: { path: { tag } }, body }),
      ),
    onError: () => queries.invalidateQueries({ queryKey: oneQuery(tag).queryKey }),
    onSuccess: (fresh) => queries.setQueryData(oneQuery(tag).queryKey, fresh),
  });
}

/** Plans one more method at an instrument. */
export function usePlanMethod(tag: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["PlanIn"]) =>
      unwrap(client.POST("/api/v1/instruments/{tag}/plans", { params: { path: { tag } }, body })),
    onSuccess: (fresh) => queries.setQueryData(oneQuery(tag).queryKey, fresh),
  });
}

/** Plans a method at an instrument no more. */
export function useDropPlan(tag: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["DropIn"]) =>
      unwrap(
        client.POST("/api/v1/instruments/{tag}/plans/drop", { params: { path: { tag } }, body }),
      ),
    onSuccess: (fresh) => queries.setQueryData(oneQuery(tag).queryKey, fresh),
  });
}
