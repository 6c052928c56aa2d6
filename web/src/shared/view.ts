import type { Composite, Layer, Scene } from "../api/types";

/** What a pane shows. */
export type PaneShow =
  | {
      kind: "scene";
      sceneId: number;
      roles: [string, string, string];
      low: number;
      high: number;
      /** The scene whose values set the limits, when it is another one: before and after alike. */
      stretchOf?: number;
    }
  | { kind: "live" }
  | { kind: "layer"; layerId: number };

/** How a study was left: kept with the study, found again at the next visit. */
export interface View {
  /** The scene that sites are drawn on, trained from and classified, and its bands that go in. */
  sceneId: number;
  roles: string[];
  panes: [PaneShow, PaneShow];
  place: { centre: [number, number]; resolution: number } | null;
  readoutFolded: boolean;
}

const DEFAULT_STRETCH = { low: 2, high: 98 };

export function rolesOf({ red, green, blue }: Composite): [string, string, string] {
  return [red, green, blue];
}

export function showScene(scene: Scene, like?: PaneShow): PaneShow {
  const has = new Set(scene.bands.map((band) => band.role));
  const keep = like?.kind === "scene" && like.roles.every((role) => has.has(role));
  const composite =
    scene.composites.find((c) => c.id === "near-infrared") ?? scene.composites[0] ?? null;
  const [first] = scene.bands;
  const grey = first?.role ?? "";
  return {
    kind: "scene",
    sceneId: scene.id,
    roles: keep ? like.roles : composite ? rolesOf(composite) : [grey, grey, grey],
    ...(like?.kind === "scene" ? { low: like.low, high: like.high } : DEFAULT_STRETCH),
  };
}

/** A view from what was stored, mended where scenes or layers have gone or nothing was stored. */
export function openView(
  stored: Record<string, unknown>,
  scenes: Scene[],
  layers: Layer[],
): View | null {
  const scene = scenes.find((s) => s.id === stored["sceneId"]) ?? scenes[0];
  if (!scene) return null;
  const old = stored as Partial<View>;
  const [left, right] = Array.isArray(old.panes) ? old.panes : [undefined, undefined];
  const bands = new Set(scene.bands.map((band) => band.role));
  const roles = Array.isArray(old.roles) ? old.roles.filter((role) => bands.has(role)) : [];
  const good = (pane: PaneShow | undefined) => pane && isThere(pane, scenes, layers);
  return {
    sceneId: scene.id,
    roles: roles.length > 0 ? roles : scene.default_roles,
    panes: [
      left && good(left) ? left : showScene(scene),
      right && good(right) ? right : { kind: "live" },
    ],
    place: isPlace(old.place) ? old.place : null,
    readoutFolded: old.readoutFolded === true,
  };
}

export function isThere(pane: PaneShow, scenes: Scene[], layers: Layer[]): boolean {
  if (pane.kind === "live") return true;
  if (pane.kind === "layer") return layers.some((layer) => layer.id === pane.layerId);
  const scene = scenes.find((s) => s.id === pane.sceneId);
  const bands = new Set(scene?.bands.map((band) => band.role));
  return pane.roles.every((role) => bands.has(role));
}

function isPlace(place: unknown): place is NonNullable<View["place"]> {
  const { centre, resolution } = (place ?? {}) as { centre?: unknown; resolution?: unknown };
  const numbers = Array.isArray(centre) ? [...(centre as unknown[]), resolution] : [];
  return numbers.length === 3 && numbers.every((n) => Number.isFinite(n));
}
