import { useStation } from "./stations";
import type { Overlay } from "./view";
import { useView } from "./viewStore";

/** Stations that show drawn things without being asked. */
const USUAL: Record<Overlay, ReadonlySet<string> | "everywhere"> = {
  sites: new Set(["train", "classify"]),
  points: new Set(["check"]),
  areas: new Set(["scenes", "correct"]),
  notes: "everywhere",
  pins: "everywhere",
};

/** Whether drawn things of a kind are seen: as the analyst said, else as the station needs. */
export function useOverlay(kind: Overlay): boolean {
  const station = useStation();
  const usual = USUAL[kind];
  return useView("overlays").overlays[kind] ?? (usual === "everywhere" || usual.has(station));
}
