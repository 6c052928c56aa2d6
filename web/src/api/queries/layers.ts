import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { body, client } from "../client";
import { refreshAfterEdit } from "./edits";
import { keys } from "./keys";

export function useLayers(studyId: number) {
  return useQuery({
    queryKey: keys.layers(studyId),
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/layers", { params: { path: { study_id: studyId } } }),
      ),
  });
}

export function useAccuracy(layerId: number | null) {
  return useQuery({
    queryKey: keys.accuracy(layerId ?? 0),
    enabled: layerId !== null,
    queryFn: () =>
      body(
        client.GET("/api/layers/{layer_id}/accuracy", {
          params: { path: { layer_id: layerId ?? 0 } },
        }),
      ),
  });
}

export function useRenameLayer(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, name }: { id: number; name: string }) =>
      body(
        client.PATCH("/api/layers/{layer_id}", {
          params: { path: { layer_id: id } },
          body: { name },
        }),
      ),
    onSettled: () => refreshAfterEdit(queries, studyId),
  });
}

export function useRemoveLayer(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: number) =>
      body(client.DELETE("/api/layers/{layer_id}", { params: { path: { layer_id: id } } })),
    onSettled: () => refreshAfterEdit(queries, studyId),
  });
}
