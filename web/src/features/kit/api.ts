import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { client, unwrap, type Schemas } from "../../api/client";

export type Cylinder = Schemas["CylinderOut"];
export type Reference = Schemas["ReferenceOut"];
export type Sensor = Schemas["SensorOut"];

/** By which words, and which page of what they find. */
export type Looked = { q: string; page: number };

export type Listed = Looked & { onPage: (page: number) => void };

/** How many there are, or were found by words. */
export const counted = (total: number, q: string, where: string) =>
  q ? `${total} found` : `${total} ${where}`;

export const kitQueries = {
  shelf: (query: Looked) =>
    queryOptions({
      queryKey: ["kit", "shelf", query] as const,
      queryFn: async ({ signal }) =>
        unwrap(client.GET("/api/v1/kit/cylinders", { params: { query }, signal })),
      placeholderData: keepPreviousData,
    }),
  usedWith: (asset: string) =>
    queryOptions({
      queryKey: ["kit", "cylinders", asset] as const,
      queryFn: async ({ signal }) =>
        unwrap(
          client.GET("/api/v1/kit/cylinders/{asset}", { params: { path: { asset } }, signal }),
        ),
    }),
  references: (query: Looked) =>
    queryOptions({
      queryKey: ["kit", "references", query] as const,
      queryFn: async ({ signal }) =>
        unwrap(client.GET("/api/v1/kit/references", { params: { query }, signal })),
      placeholderData: keepPreviousData,
    }),
  sensors: (page: number) =>
    queryOptions({
      queryKey: ["kit", "sensors", page] as const,
      queryFn: async ({ signal }) =>
        unwrap(client.GET("/api/v1/kit/sensors", { params: { query: { page } }, signal })),
      placeholderData: keepPreviousData,
    }),
};
