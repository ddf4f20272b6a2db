import { keepPreviousData, queryOptions, useMutation, useQueryClient } from "@tanstack/react-query";
import { client, unwrap, type Schemas } from "../../api/client";
import type { Payload } from "../../ui/form/inputs";

export type KitForm = Schemas["KitFormOut"];

export const kindsQuery = queryOptions({
  queryKey: ["kit", "kinds"] as const,
  staleTime: Infinity,
  queryFn: ({ signal }) => unwrap(client.GET("/api/v1/kit/kinds", { signal })),
});

/** The form of something new, or of what is there. */
export const thingQuery = (asset: string, kind: string, like: string) =>
  queryOptions({
    queryKey: ["kit", "form", asset, kind, like] as const,
    retry: false,
    queryFn: ({ signal }) =>
      asset
        ? unwrap(client.GET("/api/v1/kit/things/{asset}", { params: { path: { asset } }, signal }))
        : unwrap(
            client.GET("/api/v1/kit/things/new", { params: { query: { kind, like } }, signal }),
          ),
  });

export const wrongQuery = (kind: string, record: Payload, asset: string) =>
  queryOptions({
    queryKey: ["kit", "check", kind, record, asset] as const,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      unwrap(client.POST("/api/v1/kit/check", { body: { kind, record, asset }, signal })),
  });

/** Puts something new into the kit, or changes what is on record of it. */
export function useStoreThing(form: KitForm, asset: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ record, reason }: { record: Payload; reason: string }) =>
      asset
        ? unwrap(
            client.PUT("/api/v1/kit/things/{asset}", {
              params: { path: { asset } },
              body: { record, version: form.version, reason },
            }),
          )
        : unwrap(client.POST("/api/v1/kit/things", { body: { kind: form.kind, record, asset } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["kit"] }),
  });
}

export function useWithdraw(form: KitForm, asset: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (reason: string) =>
      unwrap(
        client.POST("/api/v1/kit/things/{asset}/withdraw", {
          params: { path: { asset } },
          body: { withdrawn: !form.withdrawn, reason, version: form.version },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["kit"] }),
  });
}
