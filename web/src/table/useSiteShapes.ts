import { useEffect, useMemo, useState } from "react";

import { useClasses, useSites } from "../api/queries/training";
import { makeSiteSource, type Outline, type SiteShape, type SiteSource, syncSites } from "../map";
import type { LandClass, Site } from "../api/types";
import { useStudyId } from "../shared/study";
import { type UnsavedSite, useUnsavedSites } from "../shared/unsavedStore";
import { useView } from "../shared/viewStore";

interface SiteShapes {
  source: SiteSource;
  shapes: SiteShape[];
}

/** All sites of the study as the map draws them, those included that are not stored yet. */
export function useSiteShapes(): SiteShapes {
  const studyId = useStudyId();
  const { sceneId } = useView("sceneId");
  const { data: sites } = useSites(studyId, sceneId);
  const { data: classes } = useClasses(studyId);
  const unsaved = useUnsavedSites((store) => store.sites);
  const [source] = useState(makeSiteSource);
  const shapes = useMemo(
    () => makeShapes(sites ?? [], classes ?? [], unsavedOf(unsaved, studyId)),
    [sites, classes, unsaved, studyId],
  );
  useEffect(() => syncSites(source, shapes), [source, shapes]);
  return { source, shapes };
}

function makeShapes(
  sites: readonly Site[],
  classes: readonly LandClass[],
  unsaved: readonly UnsavedSite[],
): SiteShape[] {
  const byId = new Map(classes.map((c) => [c.id, c]));
  const shape = (key: string, classId: number, outline: Outline, broken: boolean, of: string) => {
    const colour = byId.get(classId)?.colour ?? "#888888";
    const label = byId.get(classId)?.name ?? "";
    return { key, outline, broken, colour, label, version: `${of} ${broken} ${colour} ${label}` };
  };
  return [
    ...sites.map((site) => {
      const broken = site.problem !== null || site.elsewhen || site.set_aside;
      const outline = site.geometry as unknown as Outline;
      return shape(String(site.id), site.class_id, outline, broken, site.version);
    }),
    ...unsaved.map(({ key, classId, outline, problem }) =>
      shape(key, classId, outline, problem !== null, JSON.stringify(outline)),
    ),
  ];
}

function unsavedOf(sites: readonly UnsavedSite[], studyId: number): readonly UnsavedSite[] {
  return sites.filter((site) => site.studyId === studyId);
}
