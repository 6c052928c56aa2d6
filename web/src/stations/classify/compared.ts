import type { ComparedMaps } from "../../api/types";
import { plural } from "../../shared/format";

const SURE = 0.05;

/** Which map is right more often where only one of them is, and whether that may be chance. */
export function pointsWords(points: ComparedMaps["points"]): string {
  if (points === null) {
    return "There are no reference points that both maps cover: nothing is said of which is right.";
  }
  const { only_first, only_second, both, neither, p } = points;
  const n = only_first + only_second + both + neither;
  const told =
    `On ${plural(n, "reference point")}, both are right on ${both} and neither on ${neither}; ` +
    `only the first on ${only_first}, only the second on ${only_second}.`;
  if (p === null) return `${told} They never differ.`;
  const chance = p < 0.001 ? "less than 0.001" : p.toFixed(3);
  return p < SURE
    ? `${told} That is hardly chance (p ${chance}, McNemar’s test): the ${only_first > only_second ? "first" : "second"} is better there.`
    : `${told} That may be chance (p ${chance}, McNemar’s test).`;
}

/** Rows of a CSV: pixels and hectares from each class to each. */
export function csvOf({ rows, columns, pixels, hectares }: ComparedMaps): (string | number)[][] {
  return [
    ["first map", "second map", "pixels", "hectares"],
    ...rows.flatMap((from, i) =>
      columns.map((to, j) => [from.name, to.name, pixels[i]?.[j] ?? 0, hectares[i]?.[j] ?? 0]),
    ),
  ];
}

/** Which clusters are taken for the same, and how alike the two groupings are. */
export function matchedWords({ matched, rows, columns, rand }: ComparedMaps): string {
  const named = (all: ComparedMaps["rows"], code: number) =>
    all.find((one) => one.code === code)?.name ?? String(code);
  const pairs = (matched ?? []).map(
    ({ first, second }) => `${named(rows, first)} with ${named(columns, second)}`,
  );
  const index = rand === null ? "" : ` Adjusted Rand index ${rand.toFixed(3)}.`;
  return `Matched by the pixels they share: ${pairs.join(", ")}.${index}`;
}
