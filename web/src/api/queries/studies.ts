import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { body, client } from "../client";
import { keys } from "./keys";

export function useStudies() {
  return useQuery({ queryKey: keys.studies, queryFn: () => body(client.GET("/api/studies")) });
}

export function useCreateStudy() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (name: string) => body(client.POST("/api/studies", { body: { name } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.studies }),
  });
}

export function useStudy(studyId: number) {
  return useQuery({
    queryKey: keys.study(studyId),
    queryFn: () =>
      body(client.GET("/api/studies/{study_id}", { params: { path: { study_id: studyId } } })),
    staleTime: Infinity,
  });
}

/** Remember how the study was left; failing quietly, for it is tried again with the next change. */
export function useSaveView(studyId: number) {
  return useMutation({
    meta: { quiet: true },
    mutationFn: (view: Record<string, unknown>) =>
      body(
        client.PATCH("/api/studies/{study_id}", {
          params: { path: { study_id: studyId } },
          body: { view },
        }),
      ),
  });
}

export function useRenameStudy(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (name: string) =>
      body(
        client.PATCH("/api/studies/{study_id}", {
          params: { path: { study_id: studyId } },
          body: { name },
        }),
      ),
    onSuccess: (study) => queries.setQueryData(keys.study(studyId), study),
  });
}

export function usePoints(studyId: number) {
  return useQuery({
    queryKey: keys.points(studyId),
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/points", { params: { path: { study_id: studyId } } }),
      ),
  });
}
