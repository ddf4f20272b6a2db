import { queryOptions } from "@tanstack/react-query";
import { client, setCsrfToken, unwrap, type Schemas } from "./client";

export type Me = Schemas["Me"];

export const sessionQuery = queryOptions({
  queryKey: ["session"] as const,
  queryFn: async ({ signal }) => {
    const session = await unwrap(client.GET("/api/v1/session", { signal }));
    setCsrfToken(session.csrf_token);
    return session;
  },
  staleTime: Infinity,
});
