import { queryOptions, useQuery } from "@tanstack/react-query";

import { body, client } from "../client";
import type { components } from "../schema.generated";
import { keys } from "./keys";

export type SeriesPlace = components["schemas"]["SeriesPlace"];

export function useSeries(studyId: number) {
  return useQuery({
    queryKey: keys.series(studyId),
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/series", { params: { path: { study_id: studyId } } }),
      ),
  });
}

/** Values through a series, at a point or in an outline. */
export function seriesValuesQuery(studyId: number, place: SeriesPlace) {
  return queryOptions({
    queryKey: keys.seriesValues(studyId, place),
    queryFn: () =>
      body(
        client.POST("/api/studies/{study_id}/series-values", {
          params: { path: { study_id: studyId } },
          body: place,
        }),
      ),
  });
}
