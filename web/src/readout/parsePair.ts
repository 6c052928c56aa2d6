import type { Coordinate } from "../map";

export interface Pair {
  /** East before north. */
  at: Coordinate;
  inDegrees: boolean;
}

/** Two numbers, thousands apart if wanted; letters of the compass make them degrees. */
export function parsePair(text: string): Pair | null {
  const parts = text.split(/[,;]/).map((part) => part.replace(/[\s\u202f°]/g, ""));
  if (parts.length !== 2) return null;
  const found = parts.map((part) => /^(-?\d+(?:\.\d+)?)([NSEW]?)$/i.exec(part));
  const [first, second] = found.map((match) => {
    const sign = /[SW]/i.test(match?.[2] ?? "") ? -1 : 1;
    return { value: sign * Number(match?.[1] ?? NaN), letter: match?.[2]?.toUpperCase() ?? "" };
  });
  if (!first || !second || !Number.isFinite(first.value) || !Number.isFinite(second.value)) {
    return null;
  }
  const letters = first.letter + second.letter;
  if (/^[NS][EW]$/.test(letters)) return { at: [second.value, first.value], inDegrees: true };
  if (/^[EW][NS]$/.test(letters)) {
    const metres = Math.abs(first.value) > 360 || Math.abs(second.value) > 90;
    return { at: [first.value, second.value], inDegrees: !metres };
  }
  return letters === "" ? { at: [first.value, second.value], inDegrees: false } : null;
}
