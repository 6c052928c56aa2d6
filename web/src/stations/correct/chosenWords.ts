import { plural } from "../../shared/format";

/** Of how many scenes and maps something is done. */
export function chosenWords(nScenes: number, nMaps: number): string {
  if (nScenes + nMaps === 0) return "the chosen scenes";
  const parts = [
    ...(nScenes > 0 ? [plural(nScenes, "scene")] : []),
    ...(nMaps > 0 ? [plural(nMaps, "class map")] : []),
  ];
  return parts.join(" and ");
}
