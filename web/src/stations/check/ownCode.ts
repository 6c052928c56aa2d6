const STRANGERS = 1000;

/** The class's code in the scheme; one that the map does not have itself comes beyond all codes. */
export function ownCode(code: number): number {
  return code % STRANGERS;
}
