import { queryOptions } from "@tanstack/react-query";
import { client, unwrap, type Schemas } from "../../api/client";
import type { Payload } from "../../ui/form/inputs";

export type Calculator = Schemas["CalculatorOut"];
export type Found = Schemas["CalculatorFound"];
export type Form = Schemas["FormOut"];
export type Result = Schemas["BenchResult"];
export type { Entry, Payload } from "../../ui/form/inputs";
export type TableAsked = Schemas["TableAsked"];

export const benchQueries = {
  all: queryOptions({
    queryKey: ["bench", "all"] as const,
    staleTime: Infinity,
    queryFn: ({ signal }) => unwrap(client.GET("/api/v1/operations", { signal })),
  }),
  find: (q: string) =>
    queryOptions({
      queryKey: ["bench", "find", q] as const,
      staleTime: Infinity,
      enabled: q.trim() !== "",
      queryFn: ({ signal }) =>
        unwrap(client.GET("/api/v1/operations/find", { params: { query: { q } }, signal })),
    }),
  form: (name: string) =>
    queryOptions({
      queryKey: ["bench", "form", name] as const,
      staleTime: Infinity,
      retry: false,
      queryFn: ({ signal }) =>
        unwrap(
          client.GET("/api/v1/operations/{name}/form", { params: { path: { name } }, signal }),
        ),
    }),
  /** The key holds the inputs, so an answer can only show beside the inputs it is for. */
  result: (name: string, payload: Payload) =>
    queryOptions({
      queryKey: ["bench", "result", name, JSON.stringify(payload)] as const,
      retry: false,
      gcTime: 60_000,
      queryFn: ({ signal }) =>
        unwrap(
          client.POST("/api/v1/operations/{name}/bench", {
            params: { path: { name } },
            body: payload as never,
            signal,
          }),
        ),
    }),
  table: (asked: TableAsked) =>
    queryOptions({
      queryKey: ["bench", "table", JSON.stringify(asked)] as const,
      retry: false,
      queryFn: ({ signal }) =>
        unwrap(client.POST("/api/v1/operations/table.make/shown", { body: asked, signal })),
    }),
};

/** Fetch a table as a file and hand it to the browser's downloads. */
export async function download(asked: TableAsked, kind: "csv" | "pdf") {
  const call =
    kind === "csv"
      ? client.POST("/api/v1/operations/table.make/csv", { body: asked, parseAs: "blob" })
      : client.POST("/api/v1/operations/table.make/pdf", { body: asked, parseAs: "blob" });
  const blob = (await unwrap(call as never)) as Blob;
  const link = document.createElement("a");
  link.href = URL.createObjectURL(blob);
  link.download = `${asked.operation}.${kind}`;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 1000);
}
