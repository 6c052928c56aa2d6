import { create } from "zustand";

import type { Coordinate, DrawTool, LinkedView, Outline, SiteTool } from "../map";

export type Sheet =
  | { kind: "bring-in" }
  | { kind: "catalogue"; shown: Outline | null }
  | { kind: "facts"; sceneId: number }
  | { kind: "comparison"; sceneIds: readonly number[] };

export interface DrawnArea {
  key: string;
  name: string;
  outline: Outline;
}

interface WorkStore {
  tool: SiteTool;
  classId: number | null;
  /** Key of the chosen site: its id, or `unsaved:n`. */
  siteKey: string | null;
  crosshair: Coordinate | null;
  linked: LinkedView | null;
  /** Reference points to be made out among the others. */
  markedPoints: readonly number[];
  /** What stands in the place of the panes for a while. */
  sheet: Sheet | null;
  /** Outlines drawn or read for a correction, in the study's coordinate system. */
  areas: readonly DrawnArea[];
  /** Drawing such an outline just now. */
  areaTool: DrawTool | null;
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
  sheet: null,
  areas: [],
  areaTool: null,
  set: (part) => set(part),
}));

/** Follow the crosshair without drawing anything anew. */
export function followCrosshair(tell: (at: Coordinate | null) => void): () => void {
  tell(useWork.getState().crosshair);
  return useWork.subscribe((now, before) => {
    if (now.crosshair !== before.crosshair) tell(now.crosshair);
  });
}
