import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { client, unwrap } from "../../api/client";
import { stateOf } from "./parts";

const path = (number: string) => ({ path: { number } });

export const jobQueries = {
  /** The folded state; asked for again every two seconds, so that two people see each other. */
  state: (number: string) =>
    queryOptions({
      queryKey: ["jobs", number] as const,
      queryFn: ({ signal }) => stateOf(number, signal),
      refetchInterval: 2000,
    }),
  /** Who else looks at the job; asking says that one is here. */
  here: (number: string) =>
    queryOptions({
      queryKey: ["jobs", number, "here"] as const,
      queryFn: async ({ signal }) =>
        unwrap(client.GET("/api/v1/jobs/{number}/here", { params: path(number), signal })),
      refetchInterval: 5000,
      retry: false,
    }),
  /** What else stands in the same block, to be read in turn. */
  turns: (number: string) =>
    queryOptions({
      queryKey: ["jobs", number, "turns"] as const,
      queryFn: async ({ signal }) =>
        unwrap(client.GET("/api/v1/jobs/{number}/turns", { params: path(number), signal })),
      refetchInterval: 5000,
      retry: false,
    }),
  history: (number: string, seq: number) =>
    queryOptions({
      queryKey: ["jobs", number, "history", seq] as const,
      queryFn: async ({ signal }) =>
        unwrap(client.GET("/api/v1/jobs/{number}/history", { params: path(number), signal })),
      placeholderData: keepPreviousData,
    }),
  /** What one states by signing, and what is to be known of the accounts that signed. */
  signature: (number: string, seq: number) =>
    queryOptions({
      queryKey: ["jobs", number, "signature", seq] as const,
      queryFn: async ({ signal }) =>
        unwrap(client.GET("/api/v1/jobs/{number}/signature", { params: path(number), signal })),
    }),
  paper: (number: string, seq: number) =>
    queryOptions({
      queryKey: ["jobs", number, "paper", seq] as const,
      queryFn: async ({ signal }) =>
        unwrap(client.GET("/api/v1/records/{number}/issues", { params: path(number), signal })),
    }),
  strip: (number: string, seq: number, run: string, point: number) =>
    queryOptions({
      queryKey: ["jobs", number, "strip", seq, run, point] as const,
      queryFn: async ({ signal }) =>
        unwrap(
          client.GET("/api/v1/jobs/{number}/strip", {
            params: { ...path(number), query: { run, point } },
            signal,
          }),
        ),
    }),
  explain: (number: string, seq: number, figure: string) =>
    queryOptions({
      queryKey: ["jobs", number, "explain", seq, figure] as const,
      queryFn: async ({ signal }) =>
        unwrap(
          client.GET("/api/v1/jobs/{number}/explain", {
            params: { ...path(number), query: { figure } },
            signal,
          }),
        ),
    }),
  changed: (number: string, seq: number) =>
    queryOptions({
      queryKey: ["jobs", number, "changed", seq] as const,
      queryFn: async ({ signal }) =>
        unwrap(client.GET("/api/v1/jobs/{number}/changed", { params: path(number), signal })),
    }),
  kit: (number: string, quantity: string, role: string, count: number) =>
    queryOptions({
      queryKey: ["jobs", number, "kit", quantity, role, count] as const,
      queryFn: async ({ signal }) =>
        unwrap(
          client.GET("/api/v1/jobs/{number}/kit", {
            params: { ...path(number), query: { quantity, role, count } },
            signal,
          }),
        ),
    }),
};
