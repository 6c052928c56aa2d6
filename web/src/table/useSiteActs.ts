import { Problem, sentenceOf } from "../api/problem";
import { useDeleteSite, useUpdateSite } from "../api/queries/edits";
import { usePaint } from "../api/queries/growing";
import { useSiteActs as useActOnMany } from "../api/queries/judging";
import { useSites } from "../api/queries/training";
import type { Grid } from "../api/types";
import {
  type Coordinate,
  isNear,
  type Outline,
  outlineArea,
  restoreSite,
  type SiteShape,
  type SiteSource,
} from "../map";
import { askFirst } from "../shared/askStore";
import { formatPercent } from "../shared/format";
import { tellProblem } from "../shared/notices";
import { useStudyId } from "../shared/study";
import { useUnsavedSites } from "../shared/unsavedStore";
import { useCurrentScene } from "../shared/useCurrent";
import { useActiveClass } from "../shared/usePick";
import { useSaveSite } from "../shared/useSaveSite";
import { useView } from "../shared/viewStore";
import { useWork } from "../shared/workStore";

/** Of the scene; a site that is larger is more likely a slip than a site. */
const LARGE_SHARE = 0.1;

const OVERTAKEN = {
  title: "The site was changed in another window",
  words: "It was changed there while you reshaped it here. Yours can be put in its place.",
  act: "Put mine in its place",
};

/** What happens when an outline has been drawn or reshaped on the map. */
export function useSiteActs(source: SiteSource, shapes: SiteShape[]) {
  const studyId = useStudyId();
  const { sceneId } = useView("sceneId");
  const { extent, pixel_size: pixel } = useCurrentScene().display;
  const activeClass = useActiveClass();
  const save = useSaveSite();
  const update = useUpdateSite(studyId, sceneId, true);
  const { data: sites = [] } = useSites(studyId, sceneId);
  const unsaved = useUnsavedSites();
  const siteKey = useWork((store) => store.siteKey);
  const painting = usePaint(studyId);
  const remove = useDeleteSite(studyId);
  const many = useActOnMany(studyId, useView("sceneId", "roles"));

  const draw = (outline: Outline) => {
    if (!activeClass) {
      tellProblem("There is no class yet. Add one, then draw its sites.");
      return;
    }
    const key = `unsaved:${Date.now()}:${crypto.randomUUID()}`;
    const keep = () => {
      void save({ key, studyId, classId: activeClass.id, outline, problem: null });
    };
    const share = outlineArea(outline) / areaOfExtent(extent);
    if (share < LARGE_SHARE) keep();
    else {
      askFirst({
        title: `A site of ${formatPercent(share, 0)} of the scene?`,
        words: `Training sites are usually small pieces of ground that are surely ${activeClass.name}. This one is very large.`,
        act: "Keep it",
        onYes: keep,
      });
    }
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

  const own = sites.find((site) => String(site.id) === siteKey);

  /** Into the chosen site where it is of the class in hand and the stroke touches it, else into a
   * new one. */
  const paint = (places: Coordinate[], on: boolean) => {
    const isOwn = own?.class_id === activeClass?.id;
    const outline = own?.geometry as Outline | undefined;
    const mine = isOwn && outline && isNear(outline, places, pixel) ? own : undefined;
    if (!mine && !on) return;
    painting.mutate(
      { sceneId, geometry: mine?.geometry ?? null, places, on },
      {
        onSuccess: ({ geometry }) => {
          if (!mine) draw(geometry as unknown as Outline);
          else if (geometry) update.mutate({ id: mine.id, geometry });
          else remove.mutate(mine.id);
        },
      },
    );
  };

  const cut = (line: Coordinate[]) => {
    if (own) many.mutate({ act: "cut", siteIds: [own.id], line: line.map(([x, y]) => [x, y]) });
    else tellProblem("Choose the site to be cut first, then draw the line across it.");
  };

  return { draw, reshape, paint, cut };
}

function areaOfExtent({ left, bottom, right, top }: Grid["extent"]): number {
  return (right - left) * (top - bottom);
}
