import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, client, unwrap } from "../../api/client";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { oneQuery, type Instrument } from "./api";

/** A planner's word that an instrument is in service again; it is due at once. */
export function BackInService({ i }: { i: Instrument }) {
  const queries = useQueryClient();
  const [reason, setReason] = useState("");
  const back = useMutation({
    mutationFn: () =>
      unwrap(
        client.POST("/api/v1/instruments/{tag}/back", {
          params: { path: { tag: i.tag } },
          body: { reason },
        }),
      ),
    onSuccess: (fresh) => {
      queries.setQueryData(oneQuery(i.tag).queryKey, fresh);
      void queries.invalidateQueries({ queryKey: ["safety"] });
    },
  });
  const problem = back.error instanceof ApiError ? back.error.problem : null;
  return (
    <form
      className="flex flex-wrap items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        back.mutate();
      }}
    >
      <Field
        className="min-w-0 flex-1"
        label="Back in service: what was done? It is due at once."
        value={reason}
        problem={problem}
        onChange={(e) => setReason(e.target.value)}
      />
      <Button type="submit" disabled={back.isPending}>
        Back in service
      </Button>
    </form>
  );
}
