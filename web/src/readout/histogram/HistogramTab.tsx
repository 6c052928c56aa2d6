import { Text } from "@chakra-ui/react";
import { Suspense, useState } from "react";

import { sentenceOf } from "../../api/problem";
import { useRegionHistogram } from "../../api/queries/look";
import { useClasses } from "../../api/queries/training";
import type { LandClass, RegionHistogram } from "../../api/types";
import { type Curve, CurveChart, curvesToCsv, type Ranges } from "../../charts";
import { formatCount, formatValue } from "../../shared/format";
import { bandQuantityWords } from "../../shared/quantity";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { Toggle } from "../../shared/Toggle";
import { useShownScenes } from "../../shared/viewStore";
import { ChartFrame } from "../ChartFrame";
import { CurveLegend } from "../CurveLegend";
import { RegionSelect } from "../RegionSelect";
import { type Member, useMembers } from "../useMembers";
import { useRegion } from "../useRegion";
import { useShownMaps } from "../useShownMaps";
import { ClassShares } from "./ClassShares";

const BINS = [32, 64, 128, 256, 512];

/** The values of one band: how many pixels have which; of a class map the classes' shares. */
export function HistogramTab() {
  const { members, options, find } = useMembers();
  const [shown] = useShownScenes();
  const [picked, setPicked] = useState("");
  const usual = shown ? `${shown.sceneId}:${shown.roles[0]}` : "";
  const maps = useShownMaps();
  const all = [...options, ...maps.map(({ id, title }) => ({ value: `map:${id}`, label: title }))];
  const map = maps.find(({ id }) => picked === `map:${id}`) ?? (shown ? null : maps[0]);
  const member = find(picked) ?? find(usual) ?? members[0];
  const key = map ? `map:${map.id}` : (member?.key ?? "");
  const choice = <Select label="Band" hideLabel value={key} options={all} onValue={setPicked} />;
  if (map && !find(picked)) return <ClassShares map={map} choice={choice} />;
  return member ? <BandHistogram member={member} choice={choice} /> : null;
}

interface Props {
  readonly member: Member;
  readonly choice: React.ReactNode;
}

function BandHistogram({ member, choice }: Props) {
  const [bins, setBins] = useState(128);
  const [log, setLog] = useState(false);
  const [withClasses, setWithClasses] = useState(false);
  const region = useRegion();
  const { data: classes = [] } = useClasses(useStudyId());
  const { data, error } = useRegionHistogram(member.scene.id, {
    role: member.role,
    bins,
    with_classes: withClasses,
    ...region.order,
  });
  const curves = data && !error ? curvesOf(data, member.role, withClasses ? classes : [], log) : [];
  return (
    <ChartFrame
      name={`histogram of ${member.role}`}
      csv={() => curvesToCsv(curves, [member.role])}
      note={data && !error ? noteOf(data, member) : ""}
      empty={error ? sentenceOf(error) : data ? null : "Counting …"}
      controls={
        <>
          {choice}
          <RegionSelect region={region} />
          <Select
            label="Bins"
            hideLabel
            value={String(bins)}
            options={BINS.map((n) => ({ value: String(n), label: `${n} bins` }))}
            onValue={(value) => setBins(Number(value))}
          />
          <Toggle label="Heights by logarithm" on={log} onClick={() => setLog(!log)} />
          <Toggle label="Per class" on={withClasses} onClick={() => setWithClasses(!withClasses)} />
        </>
      }
      aside={
        data && (
          <>
            {curves.length > 1 && <CurveLegend curves={curves} />}
            <StatisticsList data={data} />
          </>
        )
      }
    >
      {({ title, ranges, setRanges, onReady }) => (
        <Suspense fallback={null}>
          <CurveChart
            curves={curves}
            xAxis={{ title: `${member.role}, ${bandQuantityWords(member.scene, member.role)}` }}
            yAxis={{ title: log ? "pixels (log)" : "pixels", log }}
            title={title}
            ranges={ranges}
            onRanges={(next: Ranges) => setRanges({ x: next.x, y: null })}
            onReady={onReady}
            label={`Histogram of ${member.role} in ${region.words}`}
          />
        </Suspense>
      )}
    </ChartFrame>
  );
}

function curvesOf(
  data: RegionHistogram,
  role: string,
  classes: LandClass[],
  log: boolean,
): Curve[] {
  const width = (data.high - data.low) / data.counts.length;
  const points = (counts: readonly number[], scale = 1) =>
    counts.map((n, i): [number, number | null] => [
      data.low + (i + 0.5) * width,
      log && n === 0 ? null : n * scale,
    ]);
  const most = Math.max(1, ...data.counts);
  const ofClasses = classes.flatMap((row) => {
    const found = data.classes.find((one) => one.code === row.code);
    if (!found || found.n_pixels === 0) return [];
    const scale = log ? 1 : most / Math.max(1, ...found.counts) / 2;
    const name = log ? row.name : `${row.name} (half height)`;
    return [{ name, colour: row.colour, stepped: true, points: points(found.counts, scale) }];
  });
  return [{ name: role, colour: null, stepped: true, points: points(data.counts) }, ...ofClasses];
}

function noteOf(data: RegionHistogram, { scene }: Member): string {
  const outside = data.n_below + data.n_above;
  const parts = [
    `${formatCount(data.n_valid)} valid of ${formatCount(data.n_covered)} pixels of ${scene.title}`,
    data.exact ? "every pixel" : "pixels spread over it",
  ];
  if (outside > 0) parts.push(`${formatCount(outside)} beyond the axis`);
  return parts.join(" · ");
}

function StatisticsList({ data }: { readonly data: RegionHistogram }) {
  const rows: [string, number | null][] = [
    ["least", data.minimum],
    ["most", data.maximum],
    ["mean", data.mean],
    ["median", data.median],
    ["s.d.", data.standard_deviation],
  ];
  return (
    <dl style={{ flex: "none", paddingInlineEnd: 12, fontSize: "0.92rem", lineHeight: 1.35 }}>
      {rows.map(([name, value]) => (
        <div key={name} style={{ display: "flex", justifyContent: "space-between", gap: 14 }}>
          <Text as="dt" color="quiet">
            {name}
          </Text>
          <Text as="dd">{formatValue(value)}</Text>
        </div>
      ))}
    </dl>
  );
}
