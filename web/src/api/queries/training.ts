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

const ASK_AGAIN_MS = 700;

/** Pixels per class, hard pairs and the version that names the live class map. */
export function useTraining(studyId: number, sceneId: number, roles: string[], method: string) {
  const text = roles.join(",");
  return useQuery({
    queryKey: keys.training(studyId, sceneId, `${text} ${method}`),
    placeholderData: keepPreviousData,
    retry: false,
    // A slow method is trained behind; it is asked for until it is there.
    refetchInterval: (query) => (query.state.data?.live.pending ? ASK_AGAIN_MS : false),
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/training", {
          params: {
            path: { study_id: studyId },
            query: { scene_id: sceneId, roles: text, method },
          },
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

/** Which of some bands tell the classes apart; asked when it is looked at. */
export function useBandAdvice(
  studyId: number,
  sceneId: number,
  order: { version: string; roles: readonly string[]; limit: number },
) {
  const roles = order.roles.join(",");
  return useQuery({
    queryKey: keys.bandAdvice(studyId, sceneId, `${order.version} ${order.limit}`, roles),
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/band-subsets", {
          params: {
            path: { study_id: studyId },
            query: { scene_id: sceneId, roles, limit: order.limit },
          },
        }),
      ),
  });
}
