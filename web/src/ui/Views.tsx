import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { client, unwrap } from "../api/client";
import { Button } from "./Button";
import { Field } from "./Field";
import { Modal } from "./Modal";
import { wrongAt, WrongElsewhere } from "./wrong";

const KEY = ["views"] as const;
type Place = "instruments" | "records";
type Props = {
  place: Place;
  /** what is looked for now, as it stands in the address; empty where everything is shown */
  query: string;
  onShow: (query: string) => void;
};

/** Filters that a person keeps under a name, and goes back to. */
export function Views({ place, query, onShow }: Props) {
  const views = useQuery({
    queryKey: KEY,
    queryFn: ({ signal }) => unwrap(client.GET("/api/v1/views", { signal })),
    staleTime: 60000,
  });
  const [naming, setNaming] = useState(false);
  const drop = useDropView();
  const kept = (views.data ?? []).filter((v) => v.place === place);
  const here = kept.find((v) => v.query === query);
  return (
    <>
      {kept.map((v) => (
        <button
          key={v.id}
          type="button"
          aria-pressed={v === here}
          onClick={() => onShow(v === here ? "" : v.query)}
          className="min-h-11 rounded-full border border-line bg-card px-4 aria-pressed:border-accent aria-pressed:bg-accent-soft"
        >
          {v.name}
        </button>
      ))}
      {query && !here && (
        <button
          type="button"
          onClick={() => setNaming(true)}
          className="min-h-11 px-2 underline underline-offset-4"
        >
          Keep this view
        </button>
      )}
      {here && (
        <button
          type="button"
          disabled={drop.isPending}
          onClick={() => drop.mutate(here.id)}
          className="min-h-11 px-2 underline underline-offset-4"
        >
          Forget {here.name}
        </button>
      )}
      {naming && <NameIt place={place} query={query} onClose={() => setNaming(false)} />}
    </>
  );
}

function useDropView() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: number) =>
      unwrap(client.DELETE("/api/v1/views/{id}", { params: { path: { id } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: KEY }),
  });
}

type NameProps = { place: Place; query: string; onClose: () => void };

function NameIt({ place, query, onClose }: NameProps) {
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const keep = useMutation({
    mutationFn: () => unwrap(client.POST("/api/v1/views", { body: { place, name, query } })),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: KEY });
      onClose();
    },
  });
  return (
    <Modal open onClose={onClose} title="Keep this view">
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate();
        }}
      >
        <Field
          label="Name"
          autoFocus
          maxLength={40}
          value={name}
          problem={wrongAt(keep.error, "name")}
          onChange={(e) => setName(e.target.value)}
        />
        <WrongElsewhere error={keep.error} fields={["name"]} />
        <p className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button look="main" type="submit" disabled={keep.isPending}>
            Keep it
          </Button>
        </p>
      </form>
    </Modal>
  );
}
