import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { body, client } from "../client";
import { keys } from "./keys";

export function useScenes(studyId: number) {
  return useQuery({
    queryKey: keys.scenes(studyId),
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/scenes", { params: { path: { study_id: studyId } } }),
      ),
    staleTime: Infinity,
  });
}

/** Scenes that cannot be opened any more, and why. */
export function useBrokenScenes(studyId: number) {
  return useQuery({
    queryKey: keys.broken(studyId),
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/broken-scenes", {
          params: { path: { study_id: studyId } },
        }),
      ),
  });
}

export function useStatistics(sceneId: number, asked: boolean) {
  return useQuery({
    queryKey: keys.statistics(sceneId),
    enabled: asked,
    queryFn: () =>
      body(
        client.GET("/api/scenes/{scene_id}/statistics", {
          params: { path: { scene_id: sceneId } },
        }),
      ),
  });
}

/** Count a scene's statistics over every pixel, as a run. */
export function useCountStatistics(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: number) =>
      body(
        client.POST("/api/scenes/{scene_id}/statistics", { params: { path: { scene_id: id } } }),
      ),
    onSettled: () => queries.invalidateQueries({ queryKey: keys.runs(studyId) }),
  });
}

/** The grids of several scenes, each held against the first one's. */
export function useComparison(studyId: number, sceneIds: readonly number[]) {
  return useQuery({
    queryKey: keys.comparison(studyId, sceneIds.join()),
    enabled: sceneIds.length > 0,
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/comparison", {
          params: { path: { study_id: studyId }, query: { scene_ids: [...sceneIds] } },
        }),
      ),
  });
}
