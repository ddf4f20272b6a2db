import { queryOptions, useMutation, useQueryClient } from "@tanstack/react-query";
import { client, unwrap, type Schemas } from "../../api/client";

export type Method = Schemas["MethodOut"];
export type Parameter = Schemas["ParameterOut"];

export const methodsQuery = queryOptions({
  queryKey: ["methods"] as const,
  queryFn: async ({ signal }) => unwrap(client.GET("/api/v1/methods", { signal })),
});

/** Changes a rule of the site; running jobs keep the limits they were opened with. */
export function useChangeRule(method: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["RuleIn"]) =>
      unwrap(
        client.POST("/api/v1/methods/{method_id}/rules", {
          params: { path: { method_id: method } },
          body,
        }),
      ),
    onError: () => queries.invalidateQueries({ queryKey: methodsQuery.queryKey }),
    onSuccess: (fresh) =>
      queries.setQueryData(methodsQuery.queryKey, (all) =>
        all?.map((m) => (m.id === fresh.id ? fresh : m)),
      ),
  });
}
