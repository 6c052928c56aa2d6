import type { AreaTool, Coordinate, LinkedView, Outline, SiteTool } from "../map";
import type { PaneIndex } from "./view";
import { createForStudy } from "./studyStore";

export type TrainSheet = { kind: "ground" } | { kind: "scheme" };

export type ScenesSheet =
  | { kind: "bring-in" }
  | { kind: "catalogue"; shown: Outline | null }
  | { kind: "facts"; sceneId: number }
  | { kind: "comparison"; sceneIds: readonly number[] };

export type ClassifySheet =
  | { kind: "methods" }
  | { kind: "layers" }
  | { kind: "trained" }
  | { kind: "compare"; first: number; second: number };

export type Sheet = ScenesSheet | TrainSheet | ClassifySheet;

export interface DrawnArea {
  key: string;
  name: string;
  outline: Outline;
}

/** A cloud of points circled in feature space; its pixels are lit in the panes. */
export interface Cloud {
  x: string;
  y: string;
  corners: readonly Coordinate[];
}

/** A pane cut in two: left of the edge its own layer, right of it the one beneath. */
export interface Edge {
  pane: PaneIndex;
  share: number;
}

/** A site being grown: from where, how pixels are compared, and how far they may be apart. */
export interface Seed {
  at: Coordinate | null;
  measure: "distance" | "angle";
  threshold: number;
}

interface WorkStore {
  tool: SiteTool;
  classId: number | null;
  /** Key of the chosen site: its id, or `unsaved:n`. */
  siteKey: string | null;
  seed: Seed;
  /** Which of the places to draw at next is looked at; null while none is. */
  nextPlace: number | null;
  /** The map of clusters that is being named, or new ones that are looked for; the newest map where
   * nothing is said. Its cluster in hand. */
  clusterMap: number | "new" | null;
  cluster: number | null;
  /** The pane that the pointer or the focus was in last. */
  activePane: PaneIndex;
  linked: LinkedView | null;
  /** Reference points to be made out among the others. */
  markedPoints: readonly number[];
  /** What stands in the place of the panes for a while. */
  sheet: Sheet | null;
  /** Outlines drawn or read, in the study's coordinate system. */
  areas: readonly DrawnArea[];
  /** Drawing such an outline just now. */
  areaTool: AreaTool | null;
  /** Drawing the line of the readout just now. */
  lineTool: boolean;
  cloud: Cloud | null;
  peeking: boolean;
  edge: Edge | null;
  /** The list of layers stands in the place of the station's card. */
  layersOpen: boolean;
  /** Where a note is being written. */
  notePlace: Coordinate | null;
  set: (part: Partial<Omit<WorkStore, "set">>) => void;
}

/** Map tool and selection: what is in hand just now, and gone after a reload. */
export const useWork = createForStudy<WorkStore>((set) => ({
  tool: "reshape",
  classId: null,
  siteKey: null,
  nextPlace: null,
  clusterMap: null,
  cluster: null,
  seed: { at: null, measure: "distance", threshold: 0.3 },
  activePane: 0,
  linked: null,
  markedPoints: [],
  sheet: null,
  areas: [],
  areaTool: null,
  lineTool: false,
  cloud: null,
  peeking: false,
  edge: null,
  layersOpen: false,
  notePlace: null,
  set: (part) => set(part),
}));
