import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { body, client } from "../client";
import type { components } from "../schema.generated";
import type { BreakStart } from "../types";
import { keys } from "./keys";

type BreaksOrder = components["schemas"]["BreaksIn"];

/** Pixels per class, and gaps and values at limits in words. */
export function useBreakCounts(sceneId: number, order: BreaksOrder | null) {
  return useQuery({
    queryKey: keys.breakCounts(sceneId, order),
    enabled: order !== null,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => {
      if (!order) throw new Error("no order");
      return body(
        client.POST("/api/scenes/{scene_id}/breaks/counts", {
          params: { path: { scene_id: sceneId } },
          body: order,
          signal,
        }),
      );
    },
  });
}

/** A table to start from. */
export function useBreakStart(sceneId: number) {
  return useMutation({
    meta: { quiet: true },
    mutationFn: (start: BreakStart) =>
      body(
        client.POST("/api/scenes/{scene_id}/breaks/start", {
          params: { path: { scene_id: sceneId } },
          body: start,
        }),
      ),
  });
}

/** Keep the class map, as a run. */
export function useKeepBreaks(studyId: number, sceneId: number) {
  const queries = useQueryClient();
  return useMutation({
    meta: { quiet: true },
    mutationFn: (order: BreaksOrder) =>
      body(
        client.POST("/api/scenes/{scene_id}/breaks/map", {
          params: { path: { scene_id: sceneId } },
          body: order,
        }),
      ),
    onSettled: () => queries.invalidateQueries({ queryKey: keys.runs(studyId) }),
  });
}
