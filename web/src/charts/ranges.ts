/** What part of a chart is seen; null: as far as the data go. */
export interface Ranges {
  x: readonly [number, number] | null;
  y: readonly [number, number] | null;
}

export const ALL: Ranges = { x: null, y: null };

/** From one corner to the other, low before high; null for a mere press. */
export function rangesBetween(
  from: readonly [number, number],
  to: readonly [number, number],
): Ranges {
  const span = (i: 0 | 1): [number, number] => [Math.min(from[i], to[i]), Math.max(from[i], to[i])];
  return { x: span(0), y: span(1) };
}
