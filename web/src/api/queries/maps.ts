import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { body, client } from "../client";
import type { RegionOrder } from "../types";
import { keys } from "./keys";

/** The class maps of a study, the newest first. */
export function useMaps(studyId: number) {
  return useQuery({
    queryKey: keys.maps(studyId),
    queryFn: () =>
      body(client.GET("/api/studies/{study_id}/maps", { params: { path: { study_id: studyId } } })),
  });
}

export function useAccuracy(layerId: number | null) {
  return useQuery({
    queryKey: keys.accuracy(layerId ?? 0),
    enabled: layerId !== null,
    queryFn: () =>
      body(
        client.GET("/api/maps/{layer_id}/accuracy", {
          params: { path: { layer_id: layerId ?? 0 } },
        }),
      ),
  });
}

/** How many pixels of a region each class has; the last answer stays until the next is there. */
export function useShares(layerId: number, order: RegionOrder) {
  return useQuery({
    queryKey: keys.shares(layerId, order),
    placeholderData: keepPreviousData,
    queryFn: () =>
      body(
        client.POST("/api/maps/{layer_id}/shares", {
          params: { path: { layer_id: layerId } },
          body: order,
        }),
      ),
  });
}
