import { queryOptions, useMutation, useQueryClient } from "@tanstack/react-query";
import { client, unwrap, type Schemas } from "../../api/client";

export type Site = Schemas["SiteOut"];
export type SiteGiven = Schemas["SiteIn"];
export type Person = Schemas["PersonOut"];

export const siteQuery = queryOptions({
  queryKey: ["site"] as const,
  queryFn: async ({ signal }) => unwrap(client.GET("/api/v1/site", { signal })),
});

export const choicesQuery = queryOptions({
  queryKey: ["site", "choices"] as const,
  queryFn: async ({ signal }) => unwrap(client.GET("/api/v1/site/choices", { signal })),
  staleTime: Infinity,
});

export const peopleQuery = queryOptions({
  queryKey: ["people"] as const,
  queryFn: async ({ signal }) => unwrap(client.GET("/api/v1/people", { signal })),
});

export function useChangeSite() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["SiteChange"]) => unwrap(client.PUT("/api/v1/site", { body })),
    onSuccess: (site) => queries.setQueryData(siteQuery.queryKey, site),
  });
}

export function useInvite() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["PersonIn"]) => unwrap(client.POST("/api/v1/people", { body })),
    onSuccess: () => queries.invalidateQueries({ queryKey: peopleQuery.queryKey }),
  });
}

export function useChangePerson() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ username, ...body }: Schemas["PersonChange"] & { username: string }) =>
      unwrap(client.PUT("/api/v1/people/{username}", { params: { path: { username } }, body })),
    onSettled: () => queries.invalidateQueries({ queryKey: peopleQuery.queryKey }),
  });
}

export function useNewLink() {
  return useMutation({
    mutationFn: ({ username, ...body }: Schemas["ProofIn"] & { username: string }) =>
      unwrap(
        client.POST("/api/v1/people/{username}/link", { params: { path: { username } }, body }),
      ),
  });
}

/** Forgets the wrong passwords of somebody. */
export function useLift() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (username: string) =>
      unwrap(client.POST("/api/v1/people/{username}/unlock", { params: { path: { username } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: peopleQuery.queryKey }),
  });
}

/** Ends the second factors of somebody else. */
export function useEndFactors() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ username, ...body }: Schemas["ProofIn"] & { username: string }) =>
      unwrap(
        client.POST("/api/v1/ways-in/of/{username}/end", { params: { path: { username } }, body }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: peopleQuery.queryKey }),
  });
}

export const waysInQuery = queryOptions({
  queryKey: ["ways-in"] as const,
  queryFn: async ({ signal }) => unwrap(client.GET("/api/v1/ways-in/mine", { signal })),
});

export const rulesQuery = queryOptions({
  queryKey: ["people", "rules"] as const,
  queryFn: async ({ signal }) => unwrap(client.GET("/api/v1/ways-in/rules", { signal })),
});

export function useChangeRules() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["RulesIn"]) => unwrap(client.PUT("/api/v1/ways-in/rules", { body })),
    onSuccess: () => queries.invalidateQueries({ queryKey: peopleQuery.queryKey }),
  });
}

export function useChangePassword() {
  return useMutation({
    mutationFn: (body: Schemas["PasswordChange"]) =>
      unwrap(client.POST("/api/v1/people/me/password", { body })),
  });
}

export const areasQuery = queryOptions({
  queryKey: ["setup", "areas"] as const,
  queryFn: ({ signal }) => unwrap(client.GET("/api/v1/setup/areas", { signal })),
});

export function useAreas() {
  const queries = useQueryClient();
  const onSuccess = (areas: Schemas["AreaLine"][]) =>
    queries.setQueryData(areasQuery.queryKey, areas);
  const add = useMutation({
    mutationFn: (name: string) => unwrap(client.POST("/api/v1/setup/areas", { body: { name } })),
    onSuccess,
  });
  const order = useMutation({
    mutationFn: (body: Schemas["AreaOrder"]) => unwrap(client.PUT("/api/v1/setup/areas", { body })),
    onSuccess,
    onError: () => queries.invalidateQueries({ queryKey: areasQuery.queryKey }),
  });
  const rename = useMutation({
    mutationFn: (body: Schemas["AreaRename"]) =>
      unwrap(client.POST("/api/v1/setup/areas/rename", { body })),
    onSuccess,
  });
  return { add, order, rename };
}
