import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { body, client } from "../client";
import type { components } from "../schema.generated";
import { keys } from "./keys";

export function useIndices(sceneId: number) {
  return useQuery({
    queryKey: keys.indices(sceneId),
    staleTime: Infinity,
    queryFn: () =>
      body(
        client.GET("/api/scenes/{scene_id}/indices", { params: { path: { scene_id: sceneId } } }),
      ),
  });
}

export function useFunctions() {
  return useQuery({
    queryKey: keys.functions,
    staleTime: Infinity,
    queryFn: () => body(client.GET("/api/functions")),
  });
}

/** What formulas may name beside the bands of their own scene. */
export function useLayerNames(studyId: number) {
  return useQuery({
    queryKey: keys.layerNames(studyId),
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/layer-names", {
          params: { path: { study_id: studyId } },
        }),
      ),
  });
}

/** A formula as it stands while it is typed. */
export function useFormulaCheck(studyId: number, sceneId: number, text: string) {
  return useQuery({
    queryKey: keys.formula(studyId, sceneId, text),
    enabled: text.trim() !== "",
    staleTime: 60_000,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      body(
        client.POST("/api/studies/{study_id}/formula-checks", {
          params: { path: { study_id: studyId } },
          body: { scene_id: sceneId, formula: text },
          signal,
        }),
      ),
  });
}

export function useCoefficientSets(sceneId: number) {
  return useQuery({
    queryKey: keys.coefficientSets(sceneId),
    staleTime: Infinity,
    queryFn: () =>
      body(
        client.GET("/api/scenes/{scene_id}/coefficient-sets", {
          params: { path: { scene_id: sceneId } },
        }),
      ),
  });
}

/** A typed or pasted table of coefficients, with what is unusual about it. */
export function useReadCoefficients(text: string) {
  return useQuery({
    queryKey: keys.coefficients(text),
    enabled: text.trim() !== "",
    staleTime: Infinity,
    retry: false,
    queryFn: () => body(client.POST("/api/coefficient-tables/text", { body: { text } })),
  });
}

/** What was saved in the study for reuse. */
export function usePresets(studyId: number) {
  return useQuery({
    queryKey: keys.presets(studyId),
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/presets", { params: { path: { study_id: studyId } } }),
      ),
  });
}

type PresetIn = components["schemas"]["PresetIn"];

export function useSavePreset(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    meta: { quiet: true },
    mutationFn: (preset: PresetIn) =>
      body(
        client.POST("/api/studies/{study_id}/presets", {
          params: { path: { study_id: studyId } },
          body: preset,
        }),
      ),
    onSuccess: () =>
      Promise.all([
        queries.invalidateQueries({ queryKey: keys.presets(studyId) }),
        queries.invalidateQueries({ queryKey: keys.edits(studyId) }),
      ]),
  });
}

export function useRemovePreset(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: number) =>
      body(client.DELETE("/api/presets/{preset_id}", { params: { path: { preset_id: id } } })),
    onSuccess: () =>
      Promise.all([
        queries.invalidateQueries({ queryKey: keys.presets(studyId) }),
        queries.invalidateQueries({ queryKey: keys.edits(studyId) }),
      ]),
  });
}
