import { queryOptions } from "@tanstack/react-query";
import { client, setCsrfToken, unwrap, type Schemas } from "./client";

export type Me = Schemas["Me"];

export const sessionQuery = queryOptions({
  queryKey: ["session"] as const,
  queryFn: async ({ signal }) => {
    const session = await unwrap(client.GET("/api/v1/session", { signal }));
    setCsrfToken(session.csrf_token);
    // Looked at by public/first.js when the page is loaded the next time.
    if (session.user) localStorage.setItem("someone", "here");
    else localStorage.removeItem("someone");
    return session;
  },
  staleTime: Infinity,
});
