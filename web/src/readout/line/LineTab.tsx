import { Suspense, useState } from "react";

import { sentenceOf } from "../../api/problem";
import { useLine } from "../../api/queries/look";
import type { LineProfile } from "../../api/types";
import { type Curve, CurveChart, curvesToCsv } from "../../charts";
import type { Coordinate } from "../../map";
import { formatCoordinate, formatCount, plural } from "../../shared/format";
import { lineColour } from "../../shared/pins";
import { moveLinePlace } from "../../shared/pointerStore";
import { bandQuantityWords } from "../../shared/quantity";
import { useStudyId } from "../../shared/study";
import { Toggle } from "../../shared/Toggle";
import { useView } from "../../shared/viewStore";
import { useWork } from "../../shared/workStore";
import { ChartFrame } from "../ChartFrame";
import { Marks } from "./Marks";
import { coordinateOf, lengthOf, nearestPlace, withMark } from "./measure";
import { MemberChips } from "./MemberChips";
import type { Member } from "../useMembers";
import { useShownMaps } from "../useShownMaps";
import { runsOf } from "./runs";
import { useChosenMembers } from "./useChosenMembers";

const HOW = "Draw a line with clicks; a double click ends it. Its ends can be moved afterwards.";

/** Values along a drawn line, in several bands or dates at once, over the classes of the map that
 * a pane shows. */
export function LineTab() {
  const { line } = useView("line");
  const inDegrees = useWork((store) => store.linked?.grid.is_geographic ?? false);
  const chosen = useChosenMembers();
  const { members } = chosen;
  const [map] = useShownMaps();
  const asked = map ? [...keysOf(members), `${map.id}:class`] : keysOf(members);
  const { profile, problem } = useProfile(line, asked);
  const codes = map && profile?.values[members.length];
  const names = members.map(chosen.nameOf);
  const curves = profile ? curvesOf(profile, names) : [];
  const [marks, setMarks] = useMarks(line);
  const [measuring, setMeasuring] = useState(false);
  const follow = (x: number | null) => moveLinePlace(x === null ? null : placeAt(profile, x));
  return (
    <ChartFrame
      name="line"
      csv={() =>
        curvesToCsv(curves, ["distance_m", "x", "y"], (x) => [x, ...(placeAt(profile, x) ?? [])])
      }
      note={profile && noteOf(profile)}
      empty={profile ? null : (problem ?? HOW)}
      controls={
        <>
          <DrawToggle />
          {profile && (
            <Toggle label="Measure" on={measuring} onClick={() => setMeasuring(!measuring)} />
          )}
          <MemberChips chosen={chosen} />
        </>
      }
      aside={
        profile &&
        measuring && <Marks data={profile} names={names} marks={marks} onMarks={setMarks} />
      }
    >
      {({ title, ranges, setRanges, onReady }) => (
        <Suspense fallback={null}>
          <CurveChart
            curves={curves}
            xAxis={{ title: "distance, m", words: (x) => placeWords(profile, x, inDegrees) }}
            yAxis={{ title: quantityOf(members) }}
            intervals={codes ? runsOf(profile, codes, map) : []}
            uprights={measuring ? marks : []}
            title={title}
            ranges={ranges}
            onRanges={setRanges}
            onReady={onReady}
            onPointer={follow}
            onPick={measuring ? (x) => setMarks(withMark(marks, x)) : undefined}
            label={`Values along the line: ${curves.map((c) => c.name).join(", ")}`}
          />
        </Suspense>
      )}
    </ChartFrame>
  );
}

function keysOf(members: readonly Member[]): string[] {
  return members.map(({ key }) => key);
}

type Profile = LineProfile | null;

/** What was read along the line, once it was. */
function useProfile(line: readonly Coordinate[] | null, keys: readonly string[]) {
  const isAsked = line !== null && keys.length > 0;
  const order = isAsked ? { vertices: [...line], members: [...keys] } : null;
  const { data, error } = useLine(useStudyId(), order);
  const profile: Profile = isAsked && data ? data : null;
  return { profile, problem: error && sentenceOf(error) };
}

function DrawToggle() {
  const { line } = useView("line");
  const on = useWork((store) => store.lineTool);
  const set = useWork((store) => store.set);
  return (
    <Toggle
      label={line ? "Draw another line" : "Draw a line"}
      title="Key D"
      on={on}
      onClick={() => set({ lineTool: !on })}
    />
  );
}

/** Marks belong to their line: another one has none yet. */
function useMarks(line: readonly Coordinate[] | null) {
  const [held, setHeld] = useState<{ line: typeof line; marks: number[] } | null>(null);
  const marks = held !== null && held.line === line ? held.marks : [];
  return [marks, (next: number[]) => setHeld({ line, marks: next })] as const;
}

function curvesOf(data: LineProfile, names: readonly string[]): Curve[] {
  return names.flatMap((name, i) => {
    const values = data.values[i];
    if (!values) return [];
    const points = data.distance_m.map((d, k): [number, number | null] => [d, values[k] ?? null]);
    return [{ name, colour: lineColour(i), plain: true, points }];
  });
}

function quantityOf([first]: readonly Member[]): string {
  return first ? bandQuantityWords(first.scene, first.role) : "";
}

function placeAt(profile: Profile, distance: number): Coordinate | null {
  return profile && coordinateOf(profile, nearestPlace(profile, distance));
}

function placeWords(profile: Profile, distance: number, inDegrees: boolean): string {
  const at = placeAt(profile, distance);
  const metres = `${formatCount(distance)} m`;
  return at === null ? metres : `${metres} · ${formatCoordinate(at, inDegrees)}`;
}

function noteOf(profile: LineProfile): string {
  const length = lengthOf(profile);
  const pixels = Math.round(length / profile.pixel_m);
  const gaps = profile.values[0]?.filter((value) => value === null).length ?? 0;
  const parts = [
    `${formatCount(length)} m, ${plural(pixels, "pixel")}`,
    `${plural(profile.x.length, "place")} read`,
  ];
  if (gaps > 0) parts.push(`${formatCount(gaps)} of them without a valid pixel`);
  return parts.join(" · ");
}
