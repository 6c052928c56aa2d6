import { type GrowOrder, useGrown } from "../api/queries/growing";
import { useStudyId } from "./study";
import { useDebounced } from "./useDebounced";
import { useView } from "./viewStore";
import { useWork } from "./workStore";

const SLIDE_MS = 60;

/** The site that grows from the seed just now; nothing without one. */
export function useGrowing() {
  const { sceneId, roles } = useView("sceneId", "roles");
  const { at, measure, threshold } = useWork((store) => store.seed);
  const tool = useWork((store) => store.tool);
  const wanted: GrowOrder | null =
    at && tool === "grow" ? { sceneId, roles, at, measure, threshold } : null;
  return useGrown(useStudyId(), useDebounced(wanted, SLIDE_MS));
}
