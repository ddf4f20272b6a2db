import { queryOptions } from "@tanstack/react-query";
import { client, setCsrfToken, unwrap, type Schemas } from "./client";
import { noPerson } from "../ui/person";

export type Me = Schemas["Me"];

export const sessionQuery = queryOptions({
  queryKey: ["session"] as const,
  queryFn: async ({ signal }) => {
    const session = await unwrap(client.GET("/api/v1/session", { signal }));
    setCsrfToken(session.csrf_token);
    if (!session.user) noPerson();
    return session;
  },
  staleTime: Infinity,
});
