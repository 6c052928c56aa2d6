import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { body, client } from "../client";
import type { CloudOrder, HistogramOrder, LineOrder, PlaneOrder, StretchOrder } from "../types";
import { useEdit } from "./edits";
import { keys } from "./keys";

export interface ReadoutPlace {
  x: number;
  y: number;
  scenes: number[];
  live: string | null;
  layers: number[];
}

/** What is asked of the server at a place. */
export function readoutQuery(studyId: number, place: ReadoutPlace) {
  return {
    queryKey: [...keys.readout(studyId), place],
    gcTime: 10_000,
    queryFn: ({ signal }: { signal: AbortSignal }) =>
      body(
        client.GET("/api/studies/{study_id}/readout", {
          params: { path: { study_id: studyId }, query: place },
          signal,
        }),
      ),
  };
}

const NOWHERE: ReadoutPlace = { x: 0, y: 0, scenes: [], live: null, layers: [] };

/** Values under a point; the last ones stay until the next ones are there. */
export function useReadout(studyId: number, place: ReadoutPlace | null) {
  return useQuery({
    ...readoutQuery(studyId, place ?? NOWHERE),
    enabled: place !== null,
    placeholderData: keepPreviousData,
  });
}

/** Each channel's histogram and limits, and the share that they cut off. */
export function useChannels(sceneId: number, order: StretchOrder) {
  return useQuery({
    queryKey: keys.channels(sceneId, order),
    placeholderData: keepPreviousData,
    queryFn: () =>
      body(
        client.GET("/api/scenes/{scene_id}/channels", {
          params: { path: { scene_id: sceneId }, query: order },
        }),
      ),
  });
}

export function usePalettes() {
  return useQuery({
    queryKey: ["palettes"],
    staleTime: Infinity,
    queryFn: () => body(client.GET("/api/palettes")),
  });
}

export function useReferenceSpectra(asked: boolean) {
  return useQuery({
    queryKey: ["reference-spectra"],
    staleTime: Infinity,
    enabled: asked,
    queryFn: () => body(client.GET("/api/reference-spectra")),
  });
}

/** A histogram of a region with its statistics; the last one stays until the next is there. */
export function useRegionHistogram(sceneId: number, order: HistogramOrder | null) {
  return useQuery({
    queryKey: keys.regionHistogram(sceneId, order),
    enabled: order !== null,
    placeholderData: keepPreviousData,
    queryFn: () => {
      if (!order) throw new Error("no order");
      return body(
        client.POST("/api/scenes/{scene_id}/histograms", {
          params: { path: { scene_id: sceneId } },
          body: order,
        }),
      );
    },
  });
}

export function useLine(studyId: number, order: LineOrder | null) {
  return useQuery({
    queryKey: keys.line(studyId, order),
    enabled: order !== null,
    placeholderData: keepPreviousData,
    queryFn: () => {
      if (!order) throw new Error("no order");
      return body(
        client.POST("/api/studies/{study_id}/line", {
          params: { path: { study_id: studyId } },
          body: order,
        }),
      );
    },
  });
}

export function useFeatureSpace(studyId: number, order: PlaneOrder | null) {
  return useQuery({
    queryKey: keys.plane(studyId, order),
    enabled: order !== null,
    placeholderData: keepPreviousData,
    queryFn: () => {
      if (!order) throw new Error("no order");
      return body(
        client.POST("/api/studies/{study_id}/feature-space", {
          params: { path: { study_id: studyId } },
          body: order,
        }),
      );
    },
  });
}

/** The soil line of the same pixels, when it is asked for. */
export function useSoilLine(studyId: number, order: PlaneOrder | null) {
  return useQuery({
    queryKey: [...keys.plane(studyId, order), "soil"],
    enabled: order !== null,
    retry: false,
    queryFn: () => {
      if (!order) throw new Error("no order");
      return body(
        client.POST("/api/studies/{study_id}/soil-line", {
          params: { path: { study_id: studyId } },
          body: order,
        }),
      );
    },
  });
}

/** What lies in a circled cloud; the last one stays until the next is counted. */
export function useCloud(studyId: number, order: CloudOrder) {
  return useQuery({
    queryKey: [...keys.plane(studyId, order), "cloud"],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () =>
      body(
        client.POST("/api/studies/{study_id}/feature-space/cloud", {
          params: { path: { study_id: studyId } },
          body: order,
        }),
      ),
  });
}

/** Training sites of a class from the compact patches of a cloud. */
export function useCloudSites(studyId: number) {
  const create = (order: CloudOrder & { class_id: number }) =>
    body(
      client.POST("/api/studies/{study_id}/feature-space/cloud/sites", {
        params: { path: { study_id: studyId } },
        body: order,
      }),
    );
  return useEdit(studyId, create, true);
}

/** Count a feature space over every pixel, as a run. */
export function useCountPlane(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (order: PlaneOrder) =>
      body(
        client.POST("/api/studies/{study_id}/feature-space/count", {
          params: { path: { study_id: studyId } },
          body: order,
        }),
      ),
    onSettled: () => queries.invalidateQueries({ queryKey: keys.runs(studyId) }),
  });
}

/** A place given in degrees, in the study's coordinate system. */
export function useFindPlace(studyId: number) {
  return useMutation({
    mutationFn: (query: { longitude: number; latitude: number }) =>
      body(
        client.GET("/api/studies/{study_id}/place", {
          params: { path: { study_id: studyId }, query },
        }),
      ),
  });
}
