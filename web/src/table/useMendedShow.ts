import { useSites } from "../api/queries/training";
import { useStudyId } from "../shared/study";
import type { PaneShow } from "../shared/view";
import { useView } from "../shared/viewStore";

/** As it is shown: what was stretched over a site that is gone is stretched over the scene. */
export function useMendedShow(show: PaneShow): PaneShow {
  const { sceneId } = useView("sceneId");
  const { data: sites } = useSites(useStudyId(), sceneId);
  if (show.kind !== "scene" || !sites) return show;
  const { over } = show.stretch;
  if (over === "scene" || !("site" in over)) return show;
  if (sites.some((site) => site.id === over.site)) return show;
  return { ...show, stretch: { ...show.stretch, over: "scene" } };
}
