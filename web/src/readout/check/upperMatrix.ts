import type { LandClass } from "../../api/types";
import { classAbove } from "../../shared/classAbove";

export interface Told {
  codes: number[];
  counts: number[][];
}

/** Counts by the classes that classes are reported under; columns beyond the codes stay last. */
export function atUpperLevel({ codes, counts }: Told, classes: readonly LandClass[]): Told {
  const above = codes.map((code) => classAbove(code, classes)?.code ?? code);
  const upper = [...new Set(above)];
  const columns = Math.max(codes.length, ...counts.map((row) => row.length));
  const place = (j: number) =>
    j < codes.length ? upper.indexOf(above[j] ?? 0) : upper.length + j - codes.length;
  const folded = upper.map(() => new Array<number>(upper.length + columns - codes.length).fill(0));
  counts.forEach((row, i) => {
    const into = folded[place(i)];
    row.forEach((n, j) => {
      if (into) into[place(j)] = (into[place(j)] ?? 0) + n;
    });
  });
  return { codes: upper, counts: folded };
}
