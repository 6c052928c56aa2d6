import type { LineProfile } from "../../api/types";
import type { Coordinate } from "../../map";

/** Which of the places that were read is nearest to a distance along the line. */
export function nearestPlace(data: LineProfile, distance: number): number {
  const from = data.distance_m.findIndex((d) => d >= distance);
  if (from === -1) return data.distance_m.length - 1;
  const before = data.distance_m[from - 1];
  const after = data.distance_m[from];
  if (before === undefined || after === undefined) return Math.max(0, from);
  return distance - before < after - distance ? from - 1 : from;
}

export function lengthOf({ distance_m }: LineProfile): number {
  return distance_m.at(-1) ?? 0;
}

/** Where on the ground a place along the line is. */
export function coordinateOf(data: LineProfile, place: number): Coordinate | null {
  const [x, y] = [data.x[place], data.y[place]];
  return x === undefined || y === undefined ? null : [x, y];
}

interface Measured {
  first: number | null;
  second: number | null;
  /** The second less the first. */
  difference: number | null;
  /** Of the valid places from mark to mark, both included. */
  mean: number | null;
}

/** What the two marks, places along the line, measure in one of its layers. */
export function measure(values: readonly (number | null)[], marks: readonly number[]): Measured {
  const [a = 0, b = a] = marks;
  const [first, second] = [values[a] ?? null, values[b] ?? null];
  const between = values.slice(Math.min(a, b), Math.max(a, b) + 1).filter((v) => v !== null);
  const sum = between.reduce((total, value) => total + value, 0);
  return {
    first,
    second,
    difference: first === null || second === null ? null : second - first,
    mean: between.length === 0 ? null : sum / between.length,
  };
}

/** Marks after a click: two at most, a third begins anew. */
export function withMark(marks: readonly number[], distance: number): number[] {
  return marks.length === 1 ? [...marks, distance] : [distance];
}
