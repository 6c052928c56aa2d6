/** Of a distance from 0 to 2: from here on classes separate well, below that they do poorly. */
export const GOOD = 1.9;
const POOR = 1.7;

export function toneOf(value: number): string {
  if (value >= GOOD) return "good";
  return value < POOR ? "warmText" : "caution";
}
