import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { body, client } from "../client";
import { keys } from "./keys";

export function useScenes(studyId: number) {
  return useQuery({
    queryKey: keys.scenes(studyId),
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/scenes", { params: { path: { study_id: studyId } } }),
      ),
    staleTime: Infinity,
  });
}

export interface ReadoutPlace {
  sceneId: number;
  x: number;
  y: number;
  live: string | null;
  layers: number[];
}

/** Values under a point; the last ones stay until the next ones are there. */
export function useReadout(place: ReadoutPlace | null) {
  return useQuery({
    queryKey: [...keys.readout(place?.sceneId ?? 0), place],
    enabled: place !== null,
    placeholderData: keepPreviousData,
    gcTime: 10_000,
    queryFn: ({ signal }) => {
      if (!place) throw new Error("no place");
      const { sceneId, x, y, live, layers } = place;
      return body(
        client.GET("/api/scenes/{scene_id}/readout", {
          params: { path: { scene_id: sceneId }, query: { x, y, live, layers } },
          signal,
        }),
      );
    },
  });
}
