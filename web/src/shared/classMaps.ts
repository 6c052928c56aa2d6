import type { ClassMap } from "../api/types";
import { plural } from "./format";

/** Whether a map was made by breaks of one layer, and not by a classifier. */
export function isBreaksMap({ method }: ClassMap): boolean {
  return method === "breaks";
}

/** Whether a map holds clusters, which can be named. */
export function isClusterMap({ method }: ClassMap): boolean {
  return method === "clusters" || method === "divide";
}

/** Maps of classifiers and of breaks, counted apart. */
export function countMaps(layers: readonly ClassMap[]): string {
  const nBreaks = layers.filter(isBreaksMap).length;
  const nMaps = layers.length - nBreaks;
  const parts = [
    ...(nMaps > 0 ? [plural(nMaps, "map")] : []),
    ...(nBreaks > 0 ? [`${nBreaks} of breaks`] : []),
  ];
  return parts.join(", ");
}
