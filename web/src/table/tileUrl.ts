import { methodQuery } from "../shared/method";
import type { PaneShow, View } from "../shared/view";
import { stretchQuery } from "./stretchOrder";

export type Tiles = { url: string; kind: "imagery" | "codes" } | null;

/** Where the tiles of what a pane shows come from; null when there is nothing to show yet. */
export function tilesOf(
  show: PaneShow,
  studyId: number,
  view: View,
  version: string | null,
): Tiles {
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
      return { url: `/api/maps/${show.layerId}/tiles/{z}/{y}/{x}.png`, kind: "codes" };
    case "breaks": {
      const query = `role=${show.role}&table=${encodeURIComponent(show.table)}`;
      return {
        url: `/api/scenes/${show.sceneId}/breaks/tiles/{z}/{y}/{x}.png?${query}`,
        kind: "codes",
      };
    }
    case "live": {
      if (version === null) return null;
      const method = methodQuery(view.method);
      const told = method === "" ? "" : `&method=${encodeURIComponent(method)}`;
      const query = `scene_id=${view.sceneId}&roles=${view.roles.join(",")}${told}`;
      return {
        url: `/api/studies/${studyId}/live/${version}/{z}/{y}/{x}.png?${query}`,
        kind: "codes",
      };
    }
  }
}
