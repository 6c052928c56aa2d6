import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { body, client } from "../client";
import { keys } from "./keys";

export function useClasses(studyId: number) {
  return useQuery({
    queryKey: keys.classes(studyId),
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/classes", { params: { path: { study_id: studyId } } }),
      ),
  });
}

export function useSites(studyId: number, sceneId: number) {
  return useQuery({
    queryKey: keys.sites(studyId, sceneId),
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/sites", {
          params: { path: { study_id: studyId }, query: { scene_id: sceneId } },
        }),
      ),
  });
}

/** Pixels per class, hard pairs and the version that names the live class map. */
export function useTraining(studyId: number, sceneId: number, roles: string[]) {
  const text = roles.join(",");
  return useQuery({
    queryKey: keys.training(studyId, sceneId, text),
    placeholderData: keepPreviousData,
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/training", {
          params: { path: { study_id: studyId }, query: { scene_id: sceneId, roles: text } },
        }),
      ),
  });
}

export function useEditState(studyId: number) {
  return useQuery({
    queryKey: keys.edits(studyId),
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/edits", { params: { path: { study_id: studyId } } }),
      ),
  });
}
