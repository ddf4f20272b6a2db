import { queryOptions } from "@tanstack/react-query";
import { client, unwrap, type Schemas } from "../../api/client";

export type Cylinder = Schemas["CylinderOut"];
export type Reference = Schemas["ReferenceOut"];
export type Sensor = Schemas["SensorOut"];

export const kitQueries = {
  shelf: queryOptions({
    queryKey: ["kit", "cylinders"] as const,
    queryFn: async ({ signal }) => unwrap(client.GET("/api/v1/kit/cylinders", { signal })),
  }),
  usedWith: (asset: string) =>
    queryOptions({
      queryKey: ["kit", "cylinders", asset] as const,
      queryFn: async ({ signal }) =>
        unwrap(
          client.GET("/api/v1/kit/cylinders/{asset}", { params: { path: { asset } }, signal }),
        ),
    }),
  references: queryOptions({
    queryKey: ["kit", "references"] as const,
    queryFn: async ({ signal }) => unwrap(client.GET("/api/v1/kit/references", { signal })),
  }),
  sensors: queryOptions({
    queryKey: ["kit", "sensors"] as const,
    queryFn: async ({ signal }) => unwrap(client.GET("/api/v1/kit/sensors", { signal })),
  }),
};
