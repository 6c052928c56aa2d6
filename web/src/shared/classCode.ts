/** What stays unclassified in any map, however wide its codes are. */
export const UNCLASSIFIED_CODE = 255;
export const LAST_CODE = 65_535;

/** Whether a class may have the code. */
export function isClassCode(code: number): boolean {
  return Number.isInteger(code) && code >= 1 && code <= LAST_CODE && code !== UNCLASSIFIED_CODE;
}

/** The first code above all that are taken. */
export function nextCode(taken: readonly number[]): number {
  const next = Math.max(0, ...taken) + 1;
  return next === UNCLASSIFIED_CODE ? next + 1 : next;
}
