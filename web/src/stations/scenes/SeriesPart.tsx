import { useSeries } from "../../api/queries/series";
import { formatDate, plural } from "../../shared/format";
import { Part } from "../../shared/Part";
import { useStudyId } from "../../shared/study";
import { SeriesEntry } from "./SeriesEntry";

/** Series of dates: filtered, counted, charted. */
export function SeriesPart() {
  const { data: series = [] } = useSeries(useStudyId());
  if (series.length === 0) return null;
  return series.map((one) => (
    <Part
      key={one.name}
      title={one.name}
      aside={`${plural(one.n_dates, "date")}, ${formatDate(one.first)} to ${formatDate(one.last)}`}
    >
      <SeriesEntry series={one} />
    </Part>
  ));
}
