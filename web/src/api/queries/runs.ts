import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { body, client } from "../client";
import type { components } from "../schema.generated";
import { keys } from "./keys";

export function useClassifiers() {
  return useQuery({
    queryKey: keys.classifiers,
    queryFn: () => body(client.GET("/api/classifiers")),
    staleTime: Infinity,
  });
}

export function useRuns(studyId: number) {
  return useQuery({
    queryKey: keys.runs(studyId),
    queryFn: () =>
      body(client.GET("/api/studies/{study_id}/runs", { params: { path: { study_id: studyId } } })),
  });
}

export type RunOrder = components["schemas"]["MapCreate"];
export type TrialOrder = components["schemas"]["RunCreate"];

export function useStartRun(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (order: RunOrder) =>
      body(
        client.POST("/api/studies/{study_id}/runs", {
          params: { path: { study_id: studyId } },
          body: order,
        }),
      ),
    onSettled: () => queries.invalidateQueries({ queryKey: keys.runs(studyId) }),
  });
}

/** Try all methods, or all layers, on the sites as they are. */
export function useTrial(studyId: number, what: "methods" | "layers") {
  const queries = useQueryClient();
  const path = { study_id: studyId };
  return useMutation({
    mutationFn: (order: TrialOrder) =>
      body(
        what === "methods"
          ? client.POST("/api/studies/{study_id}/trials", { params: { path }, body: order })
          : client.POST("/api/studies/{study_id}/layer-trials", { params: { path }, body: order }),
      ),
    onSettled: () => queries.invalidateQueries({ queryKey: keys.runs(studyId) }),
  });
}

export function useCancelRun(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (runId: number) =>
      body(client.POST("/api/runs/{run_id}/cancel", { params: { path: { run_id: runId } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: keys.runs(studyId) }),
  });
}
