import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";

import { body, client } from "../client";
import type { Site } from "../types";
import { keys } from "./keys";

export interface GrowOrder {
  sceneId: number;
  roles: readonly string[];
  at: readonly [number, number];
  measure: "distance" | "angle";
  threshold: number;
}

/** The pixels around a place that are like it and hang together. */
export function useGrown(studyId: number, order: GrowOrder | null) {
  return useQuery({
    queryKey: keys.grown(studyId, order),
    enabled: order !== null,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: () => {
      if (order === null) throw new Error("There is no place to grow from.");
      const { sceneId, roles, at, measure, threshold } = order;
      return body(
        client.GET("/api/studies/{study_id}/grown", {
          params: {
            path: { study_id: studyId },
            query: {
              scene_id: sceneId,
              roles: roles.join(","),
              x: at[0],
              y: at[1],
              measure,
              threshold,
            },
          },
        }),
      );
    },
  });
}

interface PaintOrder {
  sceneId: number;
  geometry: Site["geometry"] | null;
  places: readonly (readonly [number, number])[];
  on: boolean;
}

/** An outline with pixels put in or taken out; nothing is kept. */
export function usePaint(studyId: number) {
  return useMutation({
    mutationFn: ({ sceneId, geometry, places, on }: PaintOrder) =>
      body(
        client.POST("/api/studies/{study_id}/painted", {
          params: { path: { study_id: studyId } },
          body: { scene_id: sceneId, geometry, places: places.map(([x, y]) => [x, y]), on },
        }),
      ),
  });
}
