import { sentenceOf } from "../api/problem";
import { useCreateSite } from "../api/queries/edits";
import { useStudyId } from "./study";
import { type UnsavedSite, useUnsavedSites } from "./unsavedStore";
import { useView } from "./viewStore";
import { useWork } from "./workStore";

/** Hand a drawn outline to the server; until it is there, the browser keeps it. */
export function useSaveSite(): (site: UnsavedSite) => Promise<void> {
  const { sceneId } = useView("sceneId");
  const set = useWork((store) => store.set);
  const { mutateAsync } = useCreateSite(useStudyId(), sceneId, (site) =>
    set({ siteKey: String(site.id) }),
  );
  const { add, fail, remove } = useUnsavedSites();
  return async (site) => {
    add({ ...site, problem: null });
    try {
      await mutateAsync({ key: site.key, classId: site.classId, geometry: { ...site.outline } });
      remove(site.key);
    } catch (error) {
      fail(site.key, sentenceOf(error));
    }
  };
}
