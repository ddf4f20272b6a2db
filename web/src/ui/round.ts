import { queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { client, unwrap, type Schemas } from "../api/client";

const roundQuery = (number: string) =>
  queryOptions({
    queryKey: ["jobs", number, "round"] as const,
    queryFn: async ({ signal }) =>
      unwrap(client.GET("/api/v1/rounds/of/{number}", { params: { path: { number } }, signal })),
    staleTime: 5000,
  });

export type InRound = Schemas["RoundOut"] | null;

/** The round that a job belongs to; nothing where it is done by itself. */
export function useRound(number: string): InRound {
  return useQuery(roundQuery(number)).data?.round ?? null;
}

/** Begins a round and goes to its first job. */
export function useStartRound() {
  const navigate = useNavigate();
  return useMutation({
    mutationFn: (tags: string[]) => unwrap(client.POST("/api/v1/rounds", { body: { tags } })),
    onSuccess: ({ job }) => void navigate(`/jobs/${job}`),
  });
}

/** Opens the next job of a round and goes there. */
export function useNextOfRound() {
  const navigate = useNavigate();
  return useMutation({
    mutationFn: (id: number) =>
      unwrap(client.POST("/api/v1/rounds/{round_id}/next", { params: { path: { round_id: id } } })),
    onSuccess: ({ job }) => void navigate(`/jobs/${job}`),
  });
}

/** One signature for every job of a round that is ready. */
export function useSignRound() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, password }: { id: number; password: string }) =>
      unwrap(
        client.POST("/api/v1/rounds/{round_id}/sign", {
          params: { path: { round_id: id } },
          body: { password },
        }),
      ),
    onSuccess: () => void queries.invalidateQueries(),
  });
}
