import { type QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { body, client } from "../client";
import type { components } from "../schema.generated";
import type { Boundary } from "../types";
import { keys } from "./keys";

export function useCorrections() {
  return useQuery({
    queryKey: keys.corrections,
    staleTime: Infinity,
    queryFn: () => body(client.GET("/api/corrections")),
  });
}

export function useCombinations() {
  return useQuery({
    queryKey: keys.combinations,
    staleTime: Infinity,
    queryFn: () => body(client.GET("/api/combinations")),
  });
}

type CorrectionOrder = components["schemas"]["CorrectionCreate"];
type CombinationOrder = components["schemas"]["CombinationCreate"];

export function refreshLayers(queries: QueryClient, studyId: number): Promise<unknown> {
  return Promise.all(
    [keys.scenes(studyId), keys.maps(studyId)].map((queryKey) =>
      queries.invalidateQueries({ queryKey }),
    ),
  );
}

/** The same steps for every layer named. */
export function useCorrectLayers(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    meta: { quiet: true },
    mutationFn: (order: CorrectionOrder) =>
      body(
        client.POST("/api/studies/{study_id}/corrections", {
          params: { path: { study_id: studyId } },
          body: order,
        }),
      ),
    onSuccess: () => refreshLayers(queries, studyId),
  });
}

export function useCombineLayers(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    meta: { quiet: true },
    mutationFn: (order: CombinationOrder) =>
      body(
        client.POST("/api/studies/{study_id}/combinations", {
          params: { path: { study_id: studyId } },
          body: order,
        }),
      ),
    onSuccess: () => refreshLayers(queries, studyId),
  });
}

export interface DarkSettings {
  foot_percent: number;
  area: Record<string, unknown> | null;
}

/** The dark value of each band that would be taken out. */
export function useDarkValues(sceneId: number | null, settings: DarkSettings) {
  return useQuery({
    queryKey: keys.darkValues(sceneId ?? 0, JSON.stringify(settings)),
    enabled: sceneId !== null,
    queryFn: () =>
      body(
        client.POST("/api/scenes/{scene_id}/dark-values", {
          params: { path: { scene_id: sceneId ?? 0 } },
          body: settings,
        }),
      ),
  });
}

export function useHistogram(sceneId: number | null, role: string) {
  return useQuery({
    queryKey: keys.histogram(sceneId ?? 0, role),
    enabled: sceneId !== null && role !== "",
    staleTime: Infinity,
    queryFn: () =>
      body(
        client.GET("/api/scenes/{scene_id}/histogram", {
          params: { path: { scene_id: sceneId ?? 0 }, query: { role, bins: 96 } },
        }),
      ),
  });
}

/** By how many pixels a scene lies beside another one; measured when asked. */
export function useShift(sceneId: number | null, reference: number | null) {
  return useQuery({
    queryKey: keys.shift(sceneId ?? 0, reference ?? 0),
    enabled: sceneId !== null && reference !== null && sceneId !== reference,
    staleTime: Infinity,
    retry: false,
    queryFn: () =>
      body(
        client.GET("/api/scenes/{scene_id}/shift", {
          params: { path: { scene_id: sceneId ?? 0 }, query: { reference_id: reference ?? 0 } },
        }),
      ),
  });
}

interface BoundaryOrder {
  /** A file of one's own, or the path of one that the server sees. */
  from: File | string;
  crs: string | null;
}

/** The outlines of a boundary file in the study's coordinate system. */
export function useReadBoundary(studyId: number) {
  return useMutation({
    meta: { quiet: true },
    mutationFn: ({ from, crs }: BoundaryOrder) =>
      typeof from === "string" ? readOnServer(studyId, from, crs) : send(studyId, from, crs),
  });
}

function readOnServer(studyId: number, path: string, crs: string | null): Promise<Boundary> {
  return body(
    client.GET("/api/studies/{study_id}/folder-boundary", {
      params: { path: { study_id: studyId }, query: { path, crs } },
    }),
  );
}

function send(studyId: number, file: File, crs: string | null): Promise<Boundary> {
  return body(
    client.POST("/api/studies/{study_id}/boundaries", {
      params: { path: { study_id: studyId }, query: { name: file.name, crs } },
      body: file as unknown as string,
      bodySerializer: (content) => content as unknown as File,
      headers: { "Content-Type": "application/octet-stream" },
    }),
  );
}

/** Boundary files in the folders that the server may see. */
export function useServerBoundaries() {
  return useQuery({
    queryKey: keys.serverBoundaries,
    queryFn: () => body(client.GET("/api/folder-boundaries")),
  });
}
