import type { LandClass } from "../api/types";

/** The class that one of a code is reported under, where there is one. */
export function classAbove(code: number, classes: readonly LandClass[]): LandClass | undefined {
  const own = classes.find((row) => row.code === code);
  return classes.find(({ id }) => id === own?.parent_id);
}
