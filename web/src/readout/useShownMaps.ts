import { useMaps } from "../api/queries/maps";
import type { ClassMap } from "../api/types";
import { useStudyId } from "../shared/study";
import { useShownPanes } from "../shared/viewStore";

/** The class maps that the panes show, each once. */
export function useShownMaps(): ClassMap[] {
  const { data: maps = [] } = useMaps(useStudyId());
  const shown = new Set(
    useShownPanes().flatMap((pane) => (pane.kind === "map" ? [pane.layerId] : [])),
  );
  return maps.filter(({ id }) => shown.has(id));
}
