import type { Made } from "../api/types";
import { type PaneShow, showScene } from "./view";

/** What was made, by name. */
export function namesOfMade({ made, maps }: Made): string {
  return [...made, ...maps].map(({ title }) => `“${title}”`).join(", ");
}

/** The first thing that was made, as a pane shows it; null where nothing was. */
export function firstMade({ made: [scene], maps: [map] }: Made): PaneShow | null {
  if (scene) return showScene(scene);
  return map ? { kind: "map", layerId: map.id } : null;
}
