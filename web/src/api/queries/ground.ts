import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { body, client } from "../client";
import type { GroundOrder, GroundTake } from "../types";
import { keys } from "./keys";

/** Send a file with training sites; it is kept for a while, to be looked at. */
export function useKeepGround(studyId: number) {
  return useMutation({
    meta: { quiet: true },
    mutationFn: (file: File) =>
      body(
        client.POST("/api/studies/{study_id}/ground-files", {
          params: { path: { study_id: studyId }, query: { name: file.name } },
          body: file as unknown as string,
          bodySerializer: (content) => content as unknown as File,
          headers: { "Content-Type": "application/octet-stream" },
        }),
      ),
  });
}

/** What a kept file holds, as the analyst reads it. */
export function useGround(studyId: number, order: GroundOrder) {
  return useQuery({
    queryKey: keys.ground(studyId, order),
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: () =>
      body(
        client.POST("/api/studies/{study_id}/ground", {
          params: { path: { study_id: studyId } },
          body: order,
        }),
      ),
  });
}

/** Bring the sites of a kept file in, by a run. */
export function useTakeGround(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (order: GroundTake) =>
      body(
        client.POST("/api/studies/{study_id}/ground-takes", {
          params: { path: { study_id: studyId } },
          body: order,
        }),
      ),
    onSettled: () => queries.invalidateQueries({ queryKey: keys.runs(studyId) }),
  });
}
