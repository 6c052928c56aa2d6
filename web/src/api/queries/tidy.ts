import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { body, client } from "../client";
import type { StepOrder } from "../types";
import { keys } from "./keys";

export function useTidyings() {
  return useQuery({
    queryKey: keys.tidyings,
    staleTime: Infinity,
    queryFn: () => body(client.GET("/api/tidyings")),
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
