import { useUpdateSite } from "../api/queries/edits";
import { type Outline, restoreSite, type SiteShape, type SiteSource } from "../map";
import { tellProblem } from "../shared/notices";
import { useStudyId } from "../shared/study";
import { useUnsavedSites } from "../shared/unsavedStore";
import { useActiveClass } from "../shared/usePick";
import { useSaveSite } from "../shared/useSaveSite";
import { useView } from "../shared/viewStore";

/** What happens when an outline has been drawn or reshaped on the map. */
export function useSiteActs(source: SiteSource, shapes: SiteShape[]) {
  const studyId = useStudyId();
  const { sceneId } = useView();
  const activeClass = useActiveClass();
  const save = useSaveSite();
  const update = useUpdateSite(studyId, sceneId);
  const unsaved = useUnsavedSites();

  const draw = (outline: Outline) => {
    if (!activeClass) {
      tellProblem("There is no class yet. Add one, then draw its sites.");
      return;
    }
    const key = `unsaved:${Date.now()}:${crypto.randomUUID()}`;
    void save({ key, studyId, classId: activeClass.id, outline, problem: null });
  };

  const reshape = (key: string, outline: Outline) => {
    const waiting = unsaved.sites.find((site) => site.key === key);
    if (waiting) {
      unsaved.add({ ...waiting, outline });
      return;
    }
    update.mutateAsync({ id: Number(key), geometry: { ...outline } }).catch(() => {
      const before = shapes.find((shape) => shape.key === key);
      if (before) restoreSite(source, before);
    });
  };

  return { draw, reshape };
}
