import type { Tidied } from "../../api/types";
import { formatPercent, plural } from "../../shared/format";

type Row = Tidied["classes"][number];

const MUCH = 0.1;
const LONGEST_LIST = 3;

/** Classes that lose more than a tenth of their pixels, the most first. */
export function losses(classes: readonly Row[]): Row[] {
  return classes
    .filter(({ before, after }) => before - after > MUCH * before)
    .toSorted((a, b) => a.after / a.before - b.after / b.before);
}

/** Whether a class has lost ground and lies in more pieces than before: a creek that was cut. */
export function isBroken({ before, after, pieces_before, pieces_after }: Row): boolean {
  return after < before && pieces_after > pieces_before;
}

export function changeWords({ before, after }: Row): string {
  if (before === 0) return "new";
  const change = (after - before) / before;
  return `${change > 0 ? "+" : ""}${formatPercent(change, 1)}`;
}

/** How many reference points are told rightly before and after. */
export function rightWords({ right: { n, before, after } }: Tidied): string {
  const told = (k: number) => formatPercent(k / n, 1);
  return `Right at ${plural(n, "reference point")}: ${told(before)} before, ${told(after)} after.`;
}

export interface Move {
  from: string;
  to: string;
  n: number;
}

/** What became of what, in names, the most first. */
export function moves({ classes, from_to }: Tidied): Move[] {
  const names = new Map(classes.map(({ code, name }) => [code, name]));
  const named = (code: number) => names.get(code) ?? (code === 0 ? "No data" : String(code));
  return from_to.map(({ before, after, n }) => ({ from: named(before), to: named(after), n }));
}

/** The first few in words, and how many more there are. */
export function firstOf<T>(rows: readonly T[], words: (row: T) => string): string {
  const said = rows.slice(0, LONGEST_LIST).map(words).join(", ");
  const more = rows.length - LONGEST_LIST;
  return more > 0 ? `${said}, and ${more} more` : said;
}
