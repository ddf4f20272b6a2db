import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { client, unwrap, type Schemas } from "../api/client";
import { postForm } from "../api/lines";
import { Button } from "./Button";
import { ErrorBox } from "./states";
import { moment } from "./time";
import { Why } from "./Why";
import { WrongElsewhere } from "./wrong";

type File = Schemas["AttachmentOut"];
type Props = { about: "instrument" | "kit" | "job"; of: string; may: boolean };

/** Papers and photos beside something: looked at, put there, taken away with a reason. */
export function Files({ about, of, may }: Props) {
  const queries = useQueryClient();
  const input = useRef<HTMLInputElement>(null);
  const [leaving, setLeaving] = useState<File | null>(null);
  const key = ["files", about, of] as const;
  const files = useQuery({
    queryKey: key,
    queryFn: ({ signal }) =>
      unwrap(
        client.GET("/api/v1/files/{about}/{key}", { params: { path: { about, key: of } }, signal }),
      ),
  });
  const keep = (fresh: File[]) => queries.setQueryData(key, fresh);
  const add = useMutation({
    mutationFn: (file: Blob) => {
      const form = new FormData();
      form.set("file", file);
      return postForm<File[]>(`api/v1/files/${about}/${encodeURIComponent(of)}`, form);
    },
    onSuccess: keep,
  });
  const remove = useMutation({
    mutationFn: ({ id, reason }: { id: number; reason: string }) =>
      unwrap(
        client.POST("/api/v1/files/content/{id}/remove", {
          params: { path: { id } },
          body: { reason },
        }),
      ),
    onSuccess: (fresh) => {
      keep(fresh);
      setLeaving(null);
    },
  });
  const paper = useMutation({
    mutationFn: ({ id, on }: { id: number; on: boolean }) =>
      unwrap(
        client.PUT("/api/v1/files/content/{id}/paper", { params: { path: { id } }, body: { on } }),
      ),
    onSuccess: keep,
  });
  return (
    <section aria-label="Papers and photos" className="rounded-2xl border border-line bg-card p-4">
      <h2 className="mb-2 font-semibold">Papers and photos</h2>
      {files.isError && <ErrorBox error={files.error} onRetry={() => void files.refetch()} />}
      {files.data?.length === 0 && <p className="mb-2 text-muted">None yet.</p>}
      <ul className="mb-2 grid gap-2">
        {files.data?.map((f) => (
          <li key={f.id} className="flex items-center gap-3">
            <a
              href={`api/v1/files/content/${f.id}`}
              target="_blank"
              rel="noreferrer"
              className="flex min-h-11 min-w-0 flex-1 items-center gap-3"
            >
              {f.kind === "jpg" || f.kind === "png" ? (
                <img
                  src={`api/v1/files/content/${f.id}`}
                  alt=""
                  loading="lazy"
                  className="size-11 shrink-0 rounded-lg object-cover"
                />
              ) : (
                <span className="grid size-11 shrink-0 place-items-center rounded-lg bg-sunk text-[13px]">
                  {f.kind}
                </span>
              )}
              <span className="min-w-0">
                <span className="block truncate underline">{f.name}</span>
                <span className="block text-[13.5px] text-muted">
                  {moment(f.at).slice(0, 10)} {f.by}
                </span>
              </span>
            </a>
            {f.may_be && (
              <label className="flex min-h-11 items-center gap-2 text-[14px]">
                <input
                  type="checkbox"
                  className="size-5 accent-accent"
                  aria-label={`On the paper: ${f.name}`}
                  checked={f.on_paper}
                  disabled={!may || paper.isPending}
                  onChange={(e) => paper.mutate({ id: f.id, on: e.target.checked })}
                />
                On the paper
              </label>
            )}
            {may && (
              <Button onClick={() => setLeaving(f)}>
                Take away<span className="sr-only">: {f.name}</span>
              </Button>
            )}
          </li>
        ))}
      </ul>
      {may && (
        <>
          <input
            ref={input}
            type="file"
            accept="image/jpeg,image/png,application/pdf,text/plain"
            aria-label="Photo or paper"
            hidden
            onChange={(e) => {
              const file = e.target.files?.[0];
              if (file) add.mutate(file);
              e.target.value = "";
            }}
          />
          <Button disabled={add.isPending} onClick={() => input.current?.click()}>
            {add.isPending ? "Sending …" : "Add a photo or a PDF"}
          </Button>
        </>
      )}
      <div className="mt-2">
        <WrongElsewhere error={add.error ?? paper.error} fields={[]} />
      </div>
      {leaving && (
        <Why
          error={remove.error}
          busy={remove.isPending}
          onClose={() => setLeaving(null)}
          onSend={(reason) => remove.mutate({ id: leaving.id, reason })}
        />
      )}
    </section>
  );
}
