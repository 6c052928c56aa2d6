import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { body, client } from "../client";
import { refreshAfterEdit } from "./edits";
import { keys } from "./keys";

/** What is done with any layer, scene or class map. */
export function useRenameLayer(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, title }: { id: number; title: string }) =>
      body(
        client.PATCH("/api/layers/{layer_id}", {
          params: { path: { layer_id: id } },
          body: { title },
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

/** Layers that are made of this one; asked when it is about to be removed. */
export function useDependants(layerId: number, asked: boolean) {
  return useQuery({
    queryKey: keys.dependants(layerId),
    enabled: asked,
    queryFn: () =>
      body(
        client.GET("/api/layers/{layer_id}/dependants", {
          params: { path: { layer_id: layerId } },
        }),
      ),
  });
}

/** Keep a layer as a file, as a run. */
export function useKeepLayer(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: number) =>
      body(client.POST("/api/layers/{layer_id}/keep", { params: { path: { layer_id: id } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: keys.runs(studyId) }),
  });
}
