import type { Site } from "../api/types";
import type { Coordinate } from "../map";

/** Middle of the bounds of a site's outline. */
export function outlineCentre(geometry: Site["geometry"]): Coordinate | null {
  const numbers = (geometry["coordinates"] as unknown[]).flat(Infinity) as number[];
  const xs = numbers.filter((_, i) => i % 2 === 0);
  const ys = numbers.filter((_, i) => i % 2 === 1);
  if (xs.length === 0) return null;
  const middle = (values: number[]) => (Math.min(...values) + Math.max(...values)) / 2;
  return [middle(xs), middle(ys)];
}
