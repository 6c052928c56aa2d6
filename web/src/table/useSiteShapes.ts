import { useEffect, useState } from "react";

import { useClasses, useSites } from "../api/queries/training";
import { makeSiteSource, type Outline, type SiteShape, type SiteSource, syncSites } from "../map";
import { useStudyId } from "../shared/study";
import { useUnsavedSites } from "../shared/unsavedStore";
import { useView } from "../shared/viewStore";

interface SiteShapes {
  source: SiteSource;
  shapes: SiteShape[];
}

/** All sites of the study as the map draws them, those included that are not stored yet. */
export function useSiteShapes(): SiteShapes {
  const studyId = useStudyId();
  const { sceneId } = useView();
  const { data: sites = [] } = useSites(studyId, sceneId);
  const { data: classes = [] } = useClasses(studyId);
  const unsaved = useUnsavedSites((store) => store.sites);
  const [source] = useState(makeSiteSource);

  const byId = new Map(classes.map((c) => [c.id, c]));
  const look = (classId: number) => ({
    colour: byId.get(classId)?.colour ?? "#888888",
    label: byId.get(classId)?.name ?? "",
  });
  const shapes: SiteShape[] = [
    ...sites.map((site) => ({
      key: String(site.id),
      outline: site.geometry as unknown as Outline,
      broken: site.problem !== null || site.elsewhen || site.set_aside,
      ...look(site.class_id),
    })),
    ...unsaved
      .filter((site) => site.studyId === studyId)
      .map((site) => ({
        key: site.key,
        outline: site.outline,
        broken: site.problem !== null,
        ...look(site.classId),
      })),
  ];
  useEffect(() => syncSites(source, shapes));
  return { source, shapes };
}
