import { useMutation, useQueryClient } from "@tanstack/react-query";

import { body, client } from "../client";
import type { components } from "../schema.generated";
import { keys } from "./keys";

export type PolygonsOrder = components["schemas"]["PolygonsCreate"];

/** Queue the polygons of a class map. */
export function useMakePolygons(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    meta: { quiet: true },
    mutationFn: ({ layerId, ...order }: PolygonsOrder & { layerId: number }) =>
      body(
        client.POST("/api/maps/{layer_id}/polygons", {
          params: { path: { layer_id: layerId } },
          body: order,
        }),
      ),
    onSettled: () => queries.invalidateQueries({ queryKey: keys.runs(studyId) }),
  });
}
