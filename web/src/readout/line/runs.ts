import type { ClassMap, LineProfile } from "../../api/types";
import type { Interval } from "../../charts";

const ROOM = 0.06; // of the line: a name needs as much

/** Along a line through a class map: from where to where which class lies. */
export function runsOf(
  profile: LineProfile,
  codes: readonly (number | null)[],
  map: Pick<ClassMap, "legend">,
): Interval[] {
  const at = profile.distance_m;
  const length = (at.at(-1) ?? 0) - (at[0] ?? 0);
  const border = (i: number) => ((at[i - 1] ?? at[i] ?? 0) + (at[i] ?? at[i - 1] ?? 0)) / 2;
  const runs: Interval[] = [];
  let start = 0;
  for (let i = 1; i <= codes.length; i += 1) {
    if (i < codes.length && codes[i] === codes[start]) continue;
    const entry = map.legend.find(({ code }) => code === codes[start]);
    const [from, to] = [border(start), border(i)];
    if (entry) {
      const label = to - from >= ROOM * length ? entry.name : "";
      runs.push({ from, to, label, colour: entry.colour });
    }
    start = i;
  }
  return runs;
}
