import { useEffect, useRef } from "react";

import { useSites } from "../api/queries/training";
import { useStudyId } from "../shared/study";
import { useUnsavedSites } from "../shared/unsavedStore";
import { useView } from "../shared/viewStore";

const CLOSED =
  "The page was closed before the server had answered. Try again to store it for good.";

/** After a reload: forget outlines that the server did get, offer the others again. */
export function useRecoverUnsaved(): void {
  const studyId = useStudyId();
  const { sceneId } = useView("sceneId");
  const { data: sites } = useSites(studyId, sceneId);
  const before = useRef<Set<string> | null>(null);
  useEffect(() => {
    const { sites: unsaved, fail, remove } = useUnsavedSites.getState();
    before.current ??= new Set(unsaved.filter((s) => s.problem === null).map((s) => s.key));
    if (!sites || before.current.size === 0) return;
    const stored = new Set(sites.map((site) => JSON.stringify(site.geometry["coordinates"])));
    for (const site of unsaved.filter((s) => before.current?.has(s.key))) {
      if (stored.has(JSON.stringify(site.outline.coordinates))) remove(site.key);
      else fail(site.key, CLOSED);
    }
    before.current = new Set();
  }, [sites]);
}
