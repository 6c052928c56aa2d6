import type { Scene } from "../../api/types";
import { type PaneShow, rolesOf, type SceneShow } from "../../shared/view";

/** How a preview is shown at first, where the scene behind it is in another pane: alike, so that
 * the two can be compared; but with bands in it that are changed. */
export function firstLook(draft: Scene, panes: readonly PaneShow[]): SceneShow | undefined {
  if (draft.quantity === "values") return undefined;
  const like = panes.find(
    (pane): pane is SceneShow => pane.kind === "scene" && draft.made_of.includes(pane.sceneId),
  );
  const changed = new Set(draft.steps[0]?.settings["roles"] as string[] | undefined);
  const countOf = (roles: readonly string[]) => roles.filter((role) => changed.has(role)).length;
  if (!like || countOf(like.roles) > 0) return like;
  const looks = draft.composites.map(rolesOf).sort((a, b) => countOf(b) - countOf(a));
  const [best] = looks;
  return best && countOf(best) > 0 ? { ...like, roles: best, palette: null } : like;
}
