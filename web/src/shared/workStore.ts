import { create } from "zustand";

import type { Coordinate, LinkedView, SiteTool } from "../map";

interface WorkStore {
  tool: SiteTool;
  classId: number | null;
  /** Key of the chosen site: its id, or `unsaved:n`. */
  siteKey: string | null;
  crosshair: Coordinate | null;
  linked: LinkedView | null;
  /** Reference points to be made out among the others. */
  markedPoints: readonly number[];
  set: (part: Partial<Omit<WorkStore, "set">>) => void;
}

/** Map tool, selection and crosshair: what is in hand just now, and gone after a reload. */
export const useWork = create<WorkStore>((set) => ({
  tool: "reshape",
  classId: null,
  siteKey: null,
  crosshair: null,
  linked: null,
  markedPoints: [],
  set: (part) => set(part),
}));

/** Follow the crosshair without drawing anything anew. */
export function followCrosshair(tell: (at: Coordinate | null) => void): () => void {
  tell(useWork.getState().crosshair);
  return useWork.subscribe((now, before) => {
    if (now.crosshair !== before.crosshair) tell(now.crosshair);
  });
}
