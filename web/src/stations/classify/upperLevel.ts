import type { ClassMap, LandClass } from "../../api/types";
import { classAbove } from "../../shared/classAbove";

type Row = ClassMap["legend"][number];

/** Areas by the classes that a map's classes are reported under; one without stays what it is. */
export function atUpperLevel(legend: readonly Row[], classes: readonly LandClass[]): Row[] {
  const rows = new Map<number, Row>();
  for (const row of legend) {
    const above = classAbove(row.code, classes) ?? row;
    const before = rows.get(above.code);
    const { code, name, colour } = above;
    rows.set(code, {
      ...row,
      code,
      name,
      colour,
      pixels: sum(row.pixels, before?.pixels),
      percent: sum(row.percent, before?.percent),
      hectares: sum(row.hectares, before?.hectares),
    });
  }
  return [...rows.values()];
}

/** Nothing is known of a sum of which a part is not. */
function sum(one: number | null, other: number | null | undefined): number | null {
  if (other === undefined) return one;
  return one === null || other === null ? null : one + other;
}
