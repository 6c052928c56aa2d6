import type { Scene } from "../../api/types";

export interface BandFactors {
  role: string;
  scale: number;
  offset: number;
}

/** Every band of the scenes, and every one that has factors already. */
export function rolesOf(scenes: readonly Scene[], given: readonly BandFactors[]): string[] {
  const bands = scenes.flatMap((scene) => scene.bands.map(({ role }) => role));
  return [...new Set([...bands, ...given.map(({ role }) => role)])];
}

/** With a factor given to one band; its other factor is the general one, unless it has its own. */
export function withFactor(
  given: readonly BandFactors[],
  role: string,
  part: Partial<BandFactors>,
  general: Omit<BandFactors, "role">,
): BandFactors[] {
  const own = given.find((one) => one.role === role) ?? { ...general, role };
  const next = { ...own, ...part };
  return given.some((one) => one.role === role)
    ? given.map((one) => (one.role === role ? next : one))
    : [...given, next];
}
