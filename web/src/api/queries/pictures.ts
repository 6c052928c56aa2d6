import { useQuery } from "@tanstack/react-query";

import { body, client } from "../client";

const WATCH_MS = 5000;

/** Finer pictures that the administrator allows, on the study's ground. */
export function usePictures(studyId: number, watched = false) {
  return useQuery({
    queryKey: ["study", studyId, "pictures"],
    staleTime: Infinity,
    // Whether its address answers is only known by asking again.
    refetchInterval: watched ? WATCH_MS : false,
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/pictures", {
          params: { path: { study_id: studyId } },
        }),
      ),
  });
}
