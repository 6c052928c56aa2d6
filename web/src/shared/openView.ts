import type { ClassMap, Scene } from "../api/types";
import { mendMethod, USUAL_CLUSTERING } from "./method";
import {
  type LayerOrder,
  PANES,
  type PaneShow,
  type Panes,
  READOUT_HEIGHTS,
  showScene,
  TABS,
  USUAL_STRETCH,
  type View,
} from "./view";

/** A view from what was stored, mended where scenes or layers have gone or nothing was stored. */
export function openView(
  stored: Record<string, unknown>,
  scenes: Scene[],
  layers: ClassMap[],
): View | null {
  const scene = scenes.find((s) => s.id === stored["sceneId"]) ?? scenes[0];
  if (!scene) return null;
  const old = stored as Partial<View>;
  const bands = new Set(scene.bands.map((band) => band.role));
  const roles = Array.isArray(old.roles) ? old.roles.filter((role) => bands.has(role)) : [];
  return {
    sceneId: scene.id,
    roles: roles.length > 0 ? roles : scene.default_roles,
    method: mendMethod(old.method),
    classifyBy: old.classifyBy === "clusters" ? "clusters" : "sites",
    clustering: mendMethod(old.clustering, USUAL_CLUSTERING),
    count: old.count === 1 || old.count === 4 ? old.count : 2,
    panes: mendPanes(old.panes, scene, scenes, layers),
    place: isPlace(old.place) ? old.place : null,
    readoutFolded: old.readoutFolded === true,
    readoutHeight: clampHeight(old.readoutHeight),
    tab: TABS.find((tab) => tab === old.tab) ?? "spectrum",
    pins: coordinates(old.pins),
    line: coordinates(old.line).length >= 2 ? coordinates(old.line) : null,
    overlays: { ...old.overlays },
    layers: mendOrder(old.layers),
  };
}

export function clampHeight(height: unknown): number {
  const { least, usual, most } = READOUT_HEIGHTS;
  return typeof height === "number" && Number.isFinite(height)
    ? Math.min(most, Math.max(least, height))
    : usual;
}

function mendPanes(stored: unknown, scene: Scene, scenes: Scene[], layers: ClassMap[]): Panes {
  const old = Array.isArray(stored) ? (stored as (PaneShow | undefined)[]) : [];
  return PANES.map((i) => {
    const pane = mendStretch(old[i]);
    return pane && isThere(pane, scenes, layers) ? pane : firstShow(i, scene, scenes);
  }) as Panes;
}

/** The work scene, its live map, and two other dates where there are any. */
function firstShow(index: number, scene: Scene, scenes: Scene[]): PaneShow {
  if (index === 1) return { kind: "live" };
  const others = scenes.filter((s) => s.id !== scene.id && s.series === null);
  return showScene((index === 0 ? scene : others[index - 2]) ?? scene);
}

/** Panes as they were stored before stretches had kinds. */
function mendStretch(pane: PaneShow | undefined): PaneShow | undefined {
  if (pane?.kind !== "scene") return pane;
  const { low, high } = pane as unknown as { low?: number; high?: number };
  return {
    ...pane,
    palette: (pane as Partial<typeof pane>).palette ?? null,
    stretch: {
      ...USUAL_STRETCH,
      ...(low !== undefined && { low }),
      ...(high !== undefined && { high }),
      ...(pane as Partial<typeof pane>).stretch,
    },
  };
}

function isThere(pane: PaneShow, scenes: Scene[], layers: ClassMap[]): boolean {
  switch (pane.kind) {
    case "live":
    case "clusters":
      return true;
    case "picture":
      return typeof pane.pictureId === "string";
    case "map":
    case "named":
      return layers.some((layer) => layer.id === pane.layerId);
    case "scene": {
      const scene = scenes.find((s) => s.id === pane.sceneId);
      const bands = new Set(scene?.bands.map((band) => band.role));
      const roles = pane.roles as readonly string[] | undefined;
      return roles?.length === 3 && roles.every((role) => bands.has(role));
    }
    default:
      return false; // not kept, or of a later version
  }
}

function isPlace(place: unknown): place is NonNullable<View["place"]> {
  const { centre, resolution } = (place ?? {}) as { centre?: unknown; resolution?: unknown };
  const numbers = Array.isArray(centre) ? [...(centre as unknown[]), resolution] : [];
  return numbers.length === 3 && numbers.every((n) => Number.isFinite(n));
}

function coordinates(stored: unknown): [number, number][] {
  if (!Array.isArray(stored)) return [];
  return (stored as unknown[]).filter(
    (at): at is [number, number] =>
      Array.isArray(at) && at.length === 2 && at.every((n) => Number.isFinite(n)),
  );
}

function mendOrder(stored: unknown): LayerOrder {
  const old = (stored ?? {}) as Partial<LayerOrder>;
  return { order: old.order ?? [], hidden: old.hidden ?? [], groups: old.groups ?? {} };
}
