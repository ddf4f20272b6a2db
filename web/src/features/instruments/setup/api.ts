import { keepPreviousData, queryOptions, useMutation, useQueryClient } from "@tanstack/react-query";
import { client, unwrap, type Schemas } from "../../../api/client";
import type { Payload } from "../../../ui/form/inputs";

export type RecordForm = Schemas["RecordFormOut"];
export type Section = Schemas["SectionOut"];
export type Fits = Schemas["FitsOut"];

export const templatesQuery = queryOptions({
  queryKey: ["setup", "templates"] as const,
  staleTime: Infinity,
  queryFn: ({ signal }) => unwrap(client.GET("/api/v1/setup/templates", { signal })),
});

/** The form of a new instrument, or of one that is there. */
export const formQuery = (tag: string, template: string, like: string) =>
  queryOptions({
    queryKey: ["setup", "form", tag, template, like] as const,
    // What is typed stays; the form is read once.
    staleTime: Infinity,
    gcTime: 0,
    retry: false,
    queryFn: ({ signal }) =>
      tag
        ? unwrap(
            client.GET("/api/v1/setup/instruments/{tag}", { params: { path: { tag } }, signal }),
          )
        : unwrap(
            client.GET("/api/v1/setup/new", { params: { query: { template, like } }, signal }),
          ),
  });

export const fitsQuery = (base: string, record: Payload, tag: string) =>
  queryOptions({
    queryKey: ["setup", "fits", base, record, tag] as const,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      unwrap(client.POST("/api/v1/setup/check", { body: { base, record, tag }, signal })),
  });

/** Stores a new record, or a changed one with why. */
export function useStoreRecord(form: RecordForm, tag: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ record, reason }: { record: Payload; reason: string }) =>
      tag
        ? unwrap(
            client.PUT("/api/v1/setup/instruments/{tag}", {
              params: { path: { tag } },
              body: { record, version: form.version, reason },
            }),
          )
        : unwrap(
            client.POST("/api/v1/setup/instruments", { body: { base: form.base, record, tag } }),
          ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["instruments"] }),
  });
}
