import { Problem, sentenceOf } from "../api/problem";
import { useUpdateSite } from "../api/queries/edits";
import { useSites } from "../api/queries/training";
import { type Outline, restoreSite, type SiteShape, type SiteSource } from "../map";
import { askFirst } from "../shared/askStore";
import { tellProblem } from "../shared/notices";
import { useStudyId } from "../shared/study";
import { useUnsavedSites } from "../shared/unsavedStore";
import { useActiveClass } from "../shared/usePick";
import { useSaveSite } from "../shared/useSaveSite";
import { useView } from "../shared/viewStore";

const OVERTAKEN = {
  title: "The site was changed in another window",
  words: "It was changed there while you reshaped it here. Yours can be put in its place.",
  act: "Put mine in its place",
};

/** What happens when an outline has been drawn or reshaped on the map. */
export function useSiteActs(source: SiteSource, shapes: SiteShape[]) {
  const studyId = useStudyId();
  const { sceneId } = useView();
  const activeClass = useActiveClass();
  const save = useSaveSite();
  const update = useUpdateSite(studyId, sceneId, true);
  const { data: sites = [] } = useSites(studyId, sceneId);
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
    const id = Number(key);
    const geometry = { ...outline };
    const version = sites.find((site) => site.id === id)?.version;
    const giveUp = () => {
      const before = shapes.find((shape) => shape.key === key);
      if (before) restoreSite(source, before);
    };
    const putInPlace = () => update.mutate({ id, geometry }, { onError: refuse });
    const refuse = (error: unknown) => {
      giveUp();
      tellProblem(sentenceOf(error));
    };
    update.mutate(version === undefined ? { id, geometry } : { id, geometry, version }, {
      onError: (error) => {
        if (!(error instanceof Problem) || error.code !== "edited-elsewhere") refuse(error);
        else askFirst({ ...OVERTAKEN, onYes: putInPlace, onNo: giveUp });
      },
    });
  };

  return { draw, reshape };
}
