import { useQueries } from "@tanstack/react-query";

import { seriesValuesQuery } from "../../api/queries/series";
import type { Curve } from "../../charts";
import { useStudyId } from "../../shared/study";
import type { Place } from "./usePlaces";

/** One curve per place. */
export function useTimeCurves(
  name: string,
  first: string,
  last: string,
  places: readonly Place[],
): Curve[] {
  const studyId = useStudyId();
  return useQueries({
    queries: places.map(({ at, geometry }) =>
      seriesValuesQuery(studyId, {
        name,
        first,
        last,
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
