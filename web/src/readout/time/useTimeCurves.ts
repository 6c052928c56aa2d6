import { useQueries } from "@tanstack/react-query";

import { seriesValuesQuery } from "../../api/queries/series";
import type { Series } from "../../api/types";
import type { Curve } from "../../charts";
import { useStudyId } from "../../shared/study";
import type { Place } from "./usePlaces";

/** One curve per place. */
export function useTimeCurves(series: Series, places: readonly Place[]): Curve[] {
  const studyId = useStudyId();
  return useQueries({
    queries: places.map(({ at, geometry }) =>
      seriesValuesQuery(studyId, {
        name: series.name,
        first: series.first,
        last: series.last,
        ...(at ? { x: at[0], y: at[1] } : { geometry }),
      }),
    ),
    combine: (results) =>
      results.flatMap(({ data }, i) => {
        const place = places[i];
        if (!data || !place) return [];
        const points = data.map(({ acquired, value }): [number, number | null] => [
          Date.parse(acquired),
          value,
        ]);
        return [{ name: place.name, colour: place.colour, points }];
      }),
  });
}
