import type { KnownSensor, Role, SceneTake } from "../../../api/types";

type BandOrder = SceneTake["bands"][number];
export type Vocabulary = ReadonlyMap<string, Role>;

/** A role in words: "near infrared, 0.88 µm"; nothing for one of the analyst's own. */
export function roleWords(role: Role | undefined): string {
  if (!role) return "";
  return role.usual_um === null ? role.title : `${role.title}, ${role.usual_um.toFixed(2)} µm`;
}

/** The band with another role. A wavelength that was only the usual one goes with the role. */
export function withRole(band: BandOrder, role: string, known: Vocabulary): BandOrder {
  const isUsual =
    (band.wavelength_um ?? null) === null || band.wavelength_um === known.get(band.role)?.usual_um;
  const wavelength_um = isUsual
    ? (known.get(role)?.usual_um ?? null)
    : (band.wavelength_um ?? null);
  return { ...band, role, wavelength_um };
}

/** Words for the used bands in order; bands beyond the last word stay as they are. */
export function withRoles(
  bands: readonly BandOrder[],
  text: string,
  known: Vocabulary,
): BandOrder[] {
  const words = wordsOf(text);
  let next = 0;
  return bands.map((band) => {
    const word = band.used ? words[next++] : undefined;
    return word === undefined ? band : withRole(band, word, known);
  });
}

export function wordsOf(text: string): string[] {
  return text
    .toLowerCase()
    .split(/[\s,;]+/)
    .filter(Boolean);
}

/** The used bands as those of a sensor that has as many. */
export function asOfSensor(bands: readonly BandOrder[], sensor: KnownSensor): BandOrder[] {
  let next = 0;
  return bands.map((band) => {
    const its = band.used ? sensor.bands[next++] : undefined;
    return its ? { ...band, role: its.role, wavelength_um: its.wavelength_um } : band;
  });
}

/** Roles that nobody knows and that nobody said are meant so. */
export function strangeRoles(
  bands: readonly BandOrder[],
  known: Vocabulary,
  own: readonly string[],
): string[] {
  const used = bands.filter((band) => band.used && band.role !== "").map((band) => band.role);
  return known.size === 0 ? [] : used.filter((role) => !known.has(role) && !own.includes(role));
}
