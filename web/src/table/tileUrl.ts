import { methodQuery } from "../shared/method";
import type { PaneShow, View } from "../shared/view";
import { stretchQuery } from "./stretchOrder";

export type Tiles = { url: string; kind: "imagery" | "codes" } | null;

/** Of the class map and the clusters as they stand, and of the names of kept clusters. */
interface Versions {
  readonly live?: string | null;
  readonly clusters?: string | null;
  readonly named?: string | null;
}

/** What of a view the tiles of a pane depend on. */
export const TILE_FIELDS = ["sceneId", "roles", "method", "clustering"] as const;
type TileView = Pick<View, (typeof TILE_FIELDS)[number]>;

/** Where the tiles of what a pane shows come from; null when there is nothing to show yet. */
export function tilesOf(
  show: PaneShow,
  studyId: number,
  view: TileView,
  versions: Versions = {},
): Tiles {
  const asItStands = (what: string, version: string | null | undefined, method: string): Tiles => {
    if (version == null) return null;
    const told = method === "" ? "" : `&method=${encodeURIComponent(method)}`;
    const query = `scene_id=${view.sceneId}&roles=${view.roles.join(",")}${told}`;
    return {
      url: `/api/studies/${studyId}/${what}/${version}/{z}/{y}/{x}.png?${query}`,
      kind: "codes",
    };
  };
  switch (show.kind) {
    case "scene": {
      return {
        url: `/api/scenes/${show.sceneId}/tiles/{z}/{y}/{x}.png?${stretchQuery(show)}`,
        kind: "imagery",
      };
    }
    case "picture":
      return {
        url: `/api/pictures/${show.pictureId}/tiles/{z}/{y}/{x}.png?study_id=${studyId}`,
        kind: "imagery",
      };
    case "map":
      return flagged(codesOf(`/api/maps/${show.layerId}/tiles/{z}/{y}/{x}.png`), "upper", show);
    case "clusters":
      return asItStands("clusters", versions.clusters, JSON.stringify(view.clustering));
    case "tidied": {
      const steps = encodeURIComponent(show.steps);
      const tidied = `/api/maps/${show.layerId}/tidied/tiles/{z}/{y}/{x}.png?steps=${steps}`;
      return flagged(codesOf(tidied), "lit", show);
    }
    case "named":
      return {
        url: `/api/cluster-maps/${show.layerId}/tiles/{z}/{y}/{x}.png?version=${versions.named ?? ""}`,
        kind: "codes",
      };
    case "breaks": {
      const query = `role=${show.role}&table=${encodeURIComponent(show.table)}`;
      return {
        url: `/api/scenes/${show.sceneId}/breaks/tiles/{z}/{y}/{x}.png?${query}`,
        kind: "codes",
      };
    }
    case "live":
      return liveTiles(
        asItStands("live", versions.live, methodQuery(show.method ?? view.method)),
        show,
        view,
      );
  }
}

/** Where only what differs is lit: from the map by the method in hand. */
function liveTiles(
  tiles: Tiles,
  show: Extract<PaneShow, { kind: "live" }>,
  { method }: TileView,
): Tiles {
  const coloured = flagged(tiles, "upper", show);
  if (!coloured || !show.method || !show.lit) return coloured;
  const unlike = encodeURIComponent(JSON.stringify(method));
  return { ...coloured, url: `${coloured.url}&unlike=${unlike}` };
}

function codesOf(url: string): Tiles {
  return { url, kind: "codes" };
}

/** With a flag of what is shown, where that is set. */
function flagged<F extends string>(tiles: Tiles, flag: F, show: { [K in F]?: true }): Tiles {
  if (!tiles || !show[flag]) return tiles;
  return { ...tiles, url: `${tiles.url}${tiles.url.includes("?") ? "&" : "?"}${flag}=true` };
}
