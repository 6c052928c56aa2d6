import { useQueries } from "@tanstack/react-query";

import { seriesValuesQuery } from "../../api/queries/series";
import type { Series } from "../../api/types";
import type { TimeCurve } from "../../charts";
import { useStudyId } from "../../shared/study";
import type { Place } from "./usePins";

/** Okabe and Ito's palette, safe for colour-blind readers; lines are no classes. */
const COLOURS = ["#0072B2", "#D55E00", "#009E73", "#CC79A7", "#56B4E9", "#E69F00"];

/** One curve per place. */
export function useTimeCurves(
  series: Series,
  places: readonly Place[],
  first: string,
  last: string,
): TimeCurve[] {
  const studyId = useStudyId();
  return useQueries({
    queries: places.map(({ at, geometry }) =>
      seriesValuesQuery(studyId, {
        name: series.name,
        first,
        last,
        ...(at ? { x: at[0], y: at[1] } : { geometry }),
      }),
    ),
    combine: (results) =>
      results.flatMap(({ data }, i) => {
        const place = places[i];
        if (!data || !place) return [];
        const points = data.map(({ acquired, value }) => ({ at: Date.parse(acquired), value }));
        return [{ name: place.name, colour: COLOURS[i % COLOURS.length] ?? "#000", points }];
      }),
  });
}
