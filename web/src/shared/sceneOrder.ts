import type { Scene } from "../api/types";

/** Scenes, then derived layers, then series, of which there may be many. */
export function inOrder(scenes: readonly Scene[]): Scene[] {
  const place = ({ series, origin }: Scene) => (series !== null ? 2 : origin === "derived" ? 1 : 0);
  return [...scenes].sort((a, b) => place(a) - place(b));
}
