import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { body, client } from "../client";
import type { SceneTake } from "../types";
import { refreshAfterEdit } from "./edits";
import { keys } from "./keys";

/** An empty delivery, to send files into. */
export function useCreateDelivery(studyId: number) {
  return useMutation({
    mutationFn: (name: string) =>
      body(
        client.POST("/api/studies/{study_id}/deliveries", {
          params: { path: { study_id: studyId } },
          body: { name },
        }),
      ),
  });
}

export function useTakeFolder(studyId: number) {
  return useMutation({
    mutationFn: (path: string) =>
      body(
        client.POST("/api/studies/{study_id}/folder-deliveries", {
          params: { path: { study_id: studyId } },
          body: { path },
        }),
      ),
  });
}

export function useFolder(path: string | null) {
  return useQuery({
    queryKey: keys.folder(path),
    queryFn: () =>
      body(client.GET("/api/folders", { params: { query: path === null ? {} : { path } } })),
  });
}

/** What was recognised in a delivery; asked once all files are there. */
export function useFindings(deliveryId: number | null) {
  return useQuery({
    queryKey: keys.findings(deliveryId ?? 0),
    enabled: deliveryId !== null,
    staleTime: Infinity,
    queryFn: () =>
      body(
        client.GET("/api/deliveries/{delivery_id}/findings", {
          params: { path: { delivery_id: deliveryId ?? 0 } },
        }),
      ),
  });
}

/** The range of each band of a recognised scene, from pixels spread over it. */
export function useRanges(deliveryId: number, position: number, asked: boolean) {
  return useQuery({
    queryKey: keys.ranges(deliveryId, position),
    enabled: asked,
    staleTime: Infinity,
    queryFn: () =>
      body(
        client.GET("/api/deliveries/{delivery_id}/ranges", {
          params: { path: { delivery_id: deliveryId }, query: { position } },
        }),
      ),
  });
}

interface Taking {
  deliveryId: number;
  scenes: SceneTake[];
}

export function useTakeScenes(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    meta: { quiet: true },
    mutationFn: ({ deliveryId, scenes }: Taking) =>
      body(
        client.POST("/api/deliveries/{delivery_id}/scenes", {
          params: { path: { delivery_id: deliveryId } },
          body: { scenes },
        }),
      ),
    onSuccess: () =>
      Promise.all([
        queries.invalidateQueries({ queryKey: keys.scenes(studyId) }),
        queries.invalidateQueries({ queryKey: keys.series(studyId) }),
      ]),
  });
}

export function useCrsSearch(text: string) {
  return useQuery({
    queryKey: keys.crs(text),
    enabled: text.trim().length > 1,
    staleTime: Infinity,
    queryFn: () => body(client.GET("/api/crs", { params: { query: { text } } })),
  });
}

/** What has been received, with what is made of it. */
export function useReceived(studyId: number, asked: boolean) {
  return useQuery({
    queryKey: keys.deliveries(studyId),
    enabled: asked,
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/deliveries", {
          params: { path: { study_id: studyId } },
        }),
      ),
  });
}

/** Delete what was received, with the scenes made of it; this cannot be undone. */
export function useRemoveDelivery(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: number) =>
      body(
        client.DELETE("/api/deliveries/{delivery_id}", {
          params: { path: { delivery_id: id }, query: { with_scenes: true } },
        }),
      ),
    onSettled: () =>
      Promise.all([
        queries.invalidateQueries({ queryKey: keys.deliveries(studyId) }),
        refreshAfterEdit(queries, studyId),
      ]),
  });
}
