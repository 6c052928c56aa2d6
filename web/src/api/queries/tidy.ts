import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { body, client } from "../client";
import type { ClassName, StepOrder } from "../types";
import { keys } from "./keys";

export function useTidyings() {
  return useQuery({
    queryKey: keys.tidyings,
    staleTime: Infinity,
    queryFn: () => body(client.GET("/api/tidyings")),
  });
}

/** Steps that were made for a map with other codes, for this one; null asks nothing. */
export function useMatchedSteps(
  layerId: number,
  made: { steps: StepOrder[]; classes: ClassName[] } | null,
) {
  return useQuery({
    queryKey: keys.matchedSteps(layerId, made),
    enabled: made !== null,
    meta: { quiet: true },
    retry: false,
    queryFn: ({ signal }) =>
      body(
        client.POST("/api/maps/{layer_id}/matched-steps", {
          params: { path: { layer_id: layerId } },
          body: made ?? { steps: [], classes: [] },
          signal,
        }),
      ),
  });
}

/** What steps would change of a map; the last answer stays until the next is there. */
export function useTidied(layerId: number | null, steps: readonly StepOrder[]) {
  return useQuery({
    queryKey: keys.tidied(layerId ?? 0, steps),
    enabled: layerId !== null && steps.length > 0,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      body(
        client.POST("/api/maps/{layer_id}/tidied", {
          params: { path: { layer_id: layerId ?? 0 } },
          body: { steps: [...steps] },
          signal,
        }),
      ),
  });
}
