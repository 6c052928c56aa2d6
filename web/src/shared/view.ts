import type { Composite, Scene } from "../api/types";
import type { MethodInHand } from "./method";

export type StretchKind = "percentile" | "extremes" | "deviations" | "equalise" | "typed" | "none";

/** Where the values are counted that set the limits. */
export type StretchOver = "scene" | { extent: [number, number, number, number] } | { site: number };

export interface Stretch {
  kind: StretchKind;
  low: number;
  high: number;
  deviations: number;
  /** Of the channels, when they are typed or dragged. */
  limits: [number, number][];
  shared: boolean;
  over: StretchOver;
}

/** One band in colours instead of three as red, green, blue. */
export interface PaletteShow {
  id: string;
  reverse: boolean;
  steps: number | null;
}

/** What a pane shows. */
export type PaneShow =
  | {
      kind: "scene";
      sceneId: number;
      roles: [string, string, string];
      /** Only the first role is shown then. */
      palette: PaletteShow | null;
      stretch: Stretch;
      /** The scene whose values set the limits, when it is another one: before and after alike. */
      stretchOf?: number;
    }
  /** ``upper``: classes in the colours of those that they are reported under; of maps, too.
   * ``method``: by another method than the one in hand, beside it; ``lit``: only where both differ. */
  | { kind: "live"; upper?: true; method?: MethodInHand; lit?: true }
  /** Clusters as they are found on a sample of the work scene. */
  | { kind: "clusters" }
  /** A kept map of clusters in the colours of the classes that they are named. */
  | { kind: "named"; layerId: number }
  | { kind: "map"; layerId: number; upper?: true }
  /** A table of class breaks, as JSON, over a band, before it is kept as a map. */
  | { kind: "breaks"; sceneId: number; role: string; table: string }
  /** A class map with steps of tidying done to it, as JSON, before it is kept; or only what they
   * change lit. */
  | { kind: "tidied"; layerId: number; steps: string; lit?: true }
  | { kind: "picture"; pictureId: string };

export type SceneShow = Extract<PaneShow, { kind: "scene" }>;

export const PANES = [0, 1, 2, 3] as const;
export type PaneIndex = (typeof PANES)[number];
export type PaneCount = 1 | 2 | 4;
export type Panes = [PaneShow, PaneShow, PaneShow, PaneShow];

export const TABS = [
  "spectrum",
  "histogram",
  "line",
  "space",
  "time",
  "sites",
  "classes",
  "first-check",
  "clusters",
  "tree",
  "how-many",
] as const;
export type Tab = (typeof TABS)[number];

/** Tabs that belong to one station; all others are everywhere. */
const STATION_OF: Partial<Record<Tab, string>> = {
  sites: "train",
  classes: "train",
  "first-check": "train",
  clusters: "clusters",
  tree: "clusters",
  "how-many": "clusters",
};

/** Those of a station; clustering is one of its own here. */
export function tabsOf(station: string): readonly Tab[] {
  return TABS.filter((tab) => (STATION_OF[tab] ?? station) === station);
}

/** Drawn things that can be shown or hidden; without a word the station decides. */
export type Overlay = "sites" | "points" | "areas" | "notes" | "pins";

/** How the list of layers was put in order; keys name layers. */
export interface LayerOrder {
  order: string[];
  hidden: string[];
  groups: Record<string, string>;
}

/** How a study was left: kept with the study, found again at the next visit. */
export interface View {
  /** The scene that sites are drawn on, trained from and classified, and its bands that go in. */
  sceneId: number;
  roles: string[];
  /** How it is classified. */
  method: MethodInHand;
  /** From training sites, or by clusters that are given names. */
  classifyBy: "sites" | "clusters";
  /** How it is clustered. */
  clustering: MethodInHand;
  count: PaneCount;
  panes: Panes;
  place: { centre: [number, number]; resolution: number } | null;
  readoutFolded: boolean;
  readoutHeight: number;
  tab: Tab;
  pins: [number, number][];
  line: [number, number][] | null;
  overlays: Partial<Record<Overlay, boolean>>;
  layers: LayerOrder;
}

export const READOUT_HEIGHTS = { least: 120, usual: 186, most: 420 };

export const USUAL_STRETCH: Stretch = {
  kind: "percentile",
  low: 2,
  high: 98,
  deviations: 2,
  limits: [],
  shared: false,
  over: "scene",
};

export function rolesOf({ red, green, blue }: Composite): [string, string, string] {
  return [red, green, blue];
}

/** A scene as a pane shows it; colours and stretch are those of what stood there before. */
export function showScene(scene: Scene, like?: PaneShow): SceneShow {
  const before = like?.kind === "scene" ? like : null;
  const stretch = before ? ownStretch(before.stretch) : USUAL_STRETCH;
  const look =
    before && hasRoles(scene, before.roles)
      ? { roles: before.roles, palette: before.palette }
      : usualLook(scene);
  return { kind: "scene", sceneId: scene.id, ...look, stretch };
}

/** Near infrared, red, green where there are; of derived layers the first three, or the first one
 * in its palette. */
function usualLook(scene: Scene): Pick<SceneShow, "roles" | "palette"> {
  const composite = scene.composites.find((c) => c.id === "near-infrared") ?? scene.composites[0];
  const chosen = scene.origin === "derived" && scene.bands.length === 3; // in the order put in
  if (composite && !chosen) return { roles: rolesOf(composite), palette: null };
  const [first = "", second = first, third = first] = scene.bands.map((band) => band.role);
  const palette = { id: scene.palette, reverse: false, steps: null };
  const alone = scene.bands.length < 3 || scene.apart;
  return { roles: [first, second, third], palette: alone ? palette : null };
}

function hasRoles(scene: Scene, roles: readonly string[]): boolean {
  return roles.every((role) => scene.bands.some((band) => band.role === role));
}

/** Typed limits are of one scene's values: another one starts from the usual ones. */
function ownStretch(stretch: Stretch): Stretch {
  return stretch.kind === "typed" ? USUAL_STRETCH : stretch;
}
