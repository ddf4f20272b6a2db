import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { client, unwrap } from "../api/client";

type Request = { tag: string; follows?: string; like?: string; method?: string };

/** Opens a job on an instrument, or the one that is open already, and goes there. */
export function useOpenJob() {
  const navigate = useNavigate();
  return useMutation({
    mutationFn: ({ tag, follows = "", like = "", method = "" }: Request) =>
      unwrap(client.POST("/api/v1/jobs", { body: { tag, follows, like, method } })),
    onSuccess: ({ job }) => void navigate(`/jobs/${job}`),
  });
}
