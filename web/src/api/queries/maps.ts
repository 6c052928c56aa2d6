import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

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

/** Against the reference points; at the upper level of the class scheme on request. */
export function useAccuracy(layerId: number | null, upper: boolean) {
  return useQuery({
    queryKey: keys.accuracy(layerId ?? 0, upper),
    enabled: layerId !== null,
    queryFn: () =>
      body(
        client.GET("/api/maps/{layer_id}/accuracy", {
          params: { path: { layer_id: layerId ?? 0 }, query: { upper } },
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

/** Two maps beside each other, over all pixels and on the same points. */
export function useComparedMaps(first: number, second: number) {
  return useQuery({
    queryKey: keys.against(first, second),
    enabled: first !== second,
    retry: false,
    queryFn: () =>
      body(
        client.GET("/api/maps/{layer_id}/against/{other_id}", {
          params: { path: { layer_id: first, other_id: second } },
        }),
      ),
  });
}

/** A layer of where two maps differ. */
export function useMakeDisagreement(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ first, second }: { first: number; second: number }) =>
      body(
        client.POST("/api/maps/{layer_id}/disagreement", {
          params: { path: { layer_id: first } },
          body: { other_id: second },
        }),
      ),
    onSettled: () => queries.invalidateQueries({ queryKey: keys.maps(studyId) }),
  });
}
