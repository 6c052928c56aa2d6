import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { body, client } from "../client";
import type { components } from "../schema.generated";
import type { DerivationDraft } from "../types";
import { keys } from "./keys";

export function useDerivations() {
  return useQuery({
    queryKey: keys.derivations,
    staleTime: Infinity,
    queryFn: () => body(client.GET("/api/derivations")),
  });
}

/** A preview: a layer that can be looked at and is in no list. */
export function useDraft(studyId: number, order: DerivationDraft | null) {
  return useQuery({
    queryKey: keys.draft(studyId, order),
    enabled: order !== null,
    staleTime: Infinity,
    gcTime: 60_000, // the server forgets old ones
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => {
      if (!order) throw new Error("no order");
      return body(
        client.POST("/api/studies/{study_id}/drafts", {
          params: { path: { study_id: studyId } },
          body: order,
          signal,
        }),
      );
    },
  });
}

type DerivationCreate = components["schemas"]["DerivationCreate"];

/** The same orders for every scene named. */
export function useDerive(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    meta: { quiet: true },
    mutationFn: (order: DerivationCreate) =>
      body(
        client.POST("/api/studies/{study_id}/derivations", {
          params: { path: { study_id: studyId } },
          body: order,
        }),
      ),
    onSuccess: () =>
      Promise.all([
        queries.invalidateQueries({ queryKey: keys.scenes(studyId) }),
        queries.invalidateQueries({ queryKey: keys.runs(studyId) }),
      ]),
  });
}

/** Pixels with data for which a layer has no value. */
export function useUndefinedPixels(sceneId: number | null) {
  return useQuery({
    queryKey: keys.undefinedPixels(sceneId ?? 0),
    enabled: sceneId !== null,
    staleTime: Infinity,
    queryFn: () =>
      body(
        client.GET("/api/scenes/{scene_id}/undefined", {
          params: { path: { scene_id: sceneId ?? 0 } },
        }),
      ),
  });
}

/** Ranges of a layer's bands, correlation between them, near-duplicates. */
export function useRelations(sceneId: number | null) {
  return useQuery({
    queryKey: keys.relations(sceneId ?? 0),
    enabled: sceneId !== null,
    staleTime: Infinity,
    retry: false,
    queryFn: () =>
      body(
        client.GET("/api/scenes/{scene_id}/relations", {
          params: { path: { scene_id: sceneId ?? 0 } },
        }),
      ),
  });
}
