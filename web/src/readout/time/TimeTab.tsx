import { Text } from "@chakra-ui/react";
import { Suspense, useState } from "react";

import { useSeries } from "../../api/queries/series";
import type { Series } from "../../api/types";
import { type Curve, CurveChart, curvesToCsv } from "../../charts";
import { DateField } from "../../shared/DateField";
import { formatDate, plural } from "../../shared/format";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { ChartFrame } from "../ChartFrame";
import { CurveLegend } from "../CurveLegend";
import { PinActs } from "../PinActs";
import { useCrosshairPlace } from "../useCrosshairPlace";
import { usePlaces } from "./usePlaces";
import { useTimeCurves } from "./useTimeCurves";

/** The values of places through a series of dates. */
export function TimeTab() {
  const { data: series } = useSeries(useStudyId());
  const [picked, setPicked] = useState("");
  const one = series?.find((s) => s.name === picked) ?? series?.[0];
  if (!series) return null;
  if (!one) {
    return (
      <Text p="3" color="quiet">
        No series of dates is in the study yet. Bring several dates in as a series at Scenes.
      </Text>
    );
  }
  return (
    <SeriesChart
      series={one}
      choice={
        <Select
          label="Series"
          hideLabel
          value={one.name}
          options={series.map(({ name }) => ({ value: name, label: name }))}
          onValue={setPicked}
        />
      }
    />
  );
}

const HOW = "Move over a pane to follow a pixel through the dates; a click pins it.";

interface Props {
  readonly series: Series;
  readonly choice: React.ReactNode;
}

function SeriesChart({ series, choice }: Props) {
  const place = useCrosshairPlace();
  const places = usePlaces(place);
  const [first, setFirst] = useState<string>(series.first);
  const [last, setLast] = useState<string>(series.last);
  const curves = useTimeCurves(series.name, first, last, places);
  const role = series.roles[0] ?? "";
  return (
    <ChartFrame
      name={series.name}
      csv={() => curvesToCsv(curves, ["date"], (x) => [dayOf(x)])}
      note={noteOf(curves, first, last)}
      empty={places.length > 0 ? null : HOW}
      aside={<CurveLegend curves={curves} />}
      controls={
        <>
          {choice}
          <DateField
            hideLabel
            label="First day, included"
            value={first}
            onDay={(day) => day !== "" && setFirst(day)}
          />
          <DateField
            hideLabel
            label="Last day, included"
            value={last}
            onDay={(day) => day !== "" && setLast(day)}
          />
          <PinActs />
        </>
      }
    >
      {({ title, ranges, setRanges, onReady }) => (
        <Suspense fallback={null}>
          <CurveChart
            curves={curves}
            xAxis={{ title: "date", time: true }}
            yAxis={{ title: role }}
            title={title}
            ranges={ranges}
            onRanges={setRanges}
            onReady={onReady}
            label={`${series.name} through time at ${plural(curves.length, "place")}`}
          />
        </Suspense>
      )}
    </ChartFrame>
  );
}

function noteOf(curves: readonly Curve[], first: string, last: string): string {
  const dates = plural(curves[0]?.points.length ?? 0, "date");
  return `${dates}, ${formatDate(first)} to ${formatDate(last)}, both included`;
}

function dayOf(at: number): string {
  return new Date(at).toISOString().slice(0, 10);
}
