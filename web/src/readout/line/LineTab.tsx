import { Flex, Text } from "@chakra-ui/react";
import { Suspense, useMemo, useState } from "react";

import { sentenceOf } from "../../api/problem";
import { useLine } from "../../api/queries/look";
import type { LineProfile } from "../../api/types";
import { type Curve, CurveChart, curvesToCsv } from "../../charts";
import { formatCount, plural } from "../../shared/format";
import { lineColour } from "../../shared/pins";
import { bandQuantityWords } from "../../shared/quantity";
import { Quiet } from "../../shared/Quiet";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { Toggle } from "../../shared/Toggle";
import { useShownScenes, useView } from "../../shared/viewStore";
import { useWork } from "../../shared/workStore";
import { ChartFrame } from "../ChartFrame";
import { LineSign } from "../LineSign";
import { type Member, useMembers } from "../useMembers";

const MOST_MEMBERS = 6;

/** Values along a drawn line, in several bands or dates at once. */
export function LineTab() {
  const { line } = useView();
  const { lineTool, set } = useWork();
  const chosen = useChosenMembers();
  const order = line ? { vertices: line, members: chosen.members.map((m) => m.key) } : null;
  const { data, error } = useLine(useStudyId(), chosen.members.length > 0 ? order : null);
  const curves = useMemo(
    () => (data && line ? curvesOf(data, chosen.members, chosen.nameOf) : []),
    [data, line, chosen],
  );
  const [first] = chosen.members;
  const follow = (x: number | null) => {
    if (data) set({ linePlace: x === null ? null : placeAt(data, x) });
  };
  return (
    <ChartFrame
      name="line"
      csv={() => curvesToCsv(curves, "distance_m")}
      note={error ? sentenceOf(error) : noteOf(data, line !== null)}
      controls={
        <>
          <Toggle
            label={line ? "Draw another line" : "Draw a line"}
            title="Key D"
            on={lineTool}
            onClick={() => set({ lineTool: !lineTool })}
          />
          <MemberChips chosen={chosen} />
        </>
      }
    >
      {({ title, ranges, setRanges, onReady }) => (
        <Suspense fallback={null}>
          <CurveChart
            curves={curves}
            xAxis={{ title: "distance, m" }}
            yAxis={{ title: first ? bandQuantityWords(first.scene, first.role) : "" }}
            title={title}
            ranges={ranges}
            onRanges={setRanges}
            onReady={onReady}
            onPointer={follow}
            label={`Values along the line: ${curves.map((c) => c.name).join(", ")}`}
          />
        </Suspense>
      )}
    </ChartFrame>
  );
}

interface Chosen {
  members: Member[];
  options: { value: string; label: string }[];
  nameOf: (member: Member) => string;
  add: (key: string) => void;
  drop: (key: string) => void;
}

/** The bands that the first pane shows, unless the analyst has said otherwise. */
function useChosenMembers(): Chosen {
  const { options, find, scenes } = useMembers();
  const [shown] = useShownScenes();
  const [picked, setPicked] = useState<string[] | null>(null);
  const usual = shown ? [...new Set(shown.roles)].map((role) => `${shown.sceneId}:${role}`) : [];
  const keys = (picked ?? usual).filter((key) => find(key));
  return {
    members: keys.flatMap((key) => find(key) ?? []),
    options: options.filter(({ value }) => !keys.includes(value)),
    nameOf: ({ role, scene }) => (scenes.length > 1 ? `${role}, ${scene.title}` : role),
    add: (key) => setPicked([...keys, key].slice(-MOST_MEMBERS)),
    drop: (key) => setPicked(keys.filter((one) => one !== key)),
  };
}

function MemberChips({ chosen }: { readonly chosen: Chosen }) {
  return (
    <>
      {chosen.members.map((member, i) => (
        <Flex key={member.key} gap="1.5" align="center">
          <LineSign curve={{ colour: lineColour(i) }} />
          <Text flex="1" truncate>
            {chosen.nameOf(member)}
          </Text>
          <Quiet
            type="button"
            minW="24px"
            minH="24px"
            aria-label={`Leave out ${chosen.nameOf(member)}`}
            onClick={() => chosen.drop(member.key)}
          >
            ×
          </Quiet>
        </Flex>
      ))}
      {chosen.members.length < MOST_MEMBERS && (
        <Select
          label="Add a band"
          hideLabel
          value=""
          options={[{ value: "", label: "add a band" }, ...chosen.options]}
          onValue={(key) => key !== "" && chosen.add(key)}
        />
      )}
    </>
  );
}

function curvesOf(
  data: LineProfile,
  members: readonly Member[],
  nameOf: Chosen["nameOf"],
): Curve[] {
  return members.flatMap((member, i) => {
    const values = data.values[i];
    if (!values) return [];
    const points = data.distance_m.map((d, k): [number, number | null] => [d, values[k] ?? null]);
    return [{ name: nameOf(member), colour: lineColour(i), plain: true, points }];
  });
}

/** Where on the ground a distance along the line is. */
function placeAt(data: LineProfile, distance: number): [number, number] | null {
  const at = data.distance_m.findIndex((d) => d >= distance);
  const x = data.x[at];
  const y = data.y[at];
  return x === undefined || y === undefined ? null : [x, y];
}

function noteOf(data: LineProfile | undefined, hasLine: boolean): string {
  if (!hasLine || !data)
    return "Draw a line with clicks; a double click ends it. Its ends can be moved afterwards.";
  const length = data.distance_m.at(-1) ?? 0;
  const pixels = Math.round(length / data.pixel_m);
  const gaps = data.values[0]?.filter((value) => value === null).length ?? 0;
  const parts = [
    `${formatCount(length)} m, ${plural(pixels, "pixel")}`,
    `${plural(data.x.length, "place")} read`,
  ];
  if (gaps > 0) parts.push(`${formatCount(gaps)} of them without a valid pixel`);
  return parts.join(" · ");
}
