import { useMaps } from "../../api/queries/maps";
import type { ClassMap } from "../../api/types";
import { useStudyId } from "../../shared/study";
import { useView, useViewStore } from "../../shared/viewStore";

/** The class map that is tidied: the one in the panes, else the newest. */
export function useMapToTidy() {
  const { data: maps = [] } = useMaps(useStudyId());
  const { panes } = useView("panes");
  const setPane = useViewStore((store) => store.setPane);
  const shown = panes.toReversed().flatMap((pane) => {
    return pane.kind === "map" || pane.kind === "tidied" ? [pane.layerId] : [];
  });
  const map: ClassMap | undefined = maps.find(({ id }) => id === shown[0]) ?? maps[0];
  return {
    maps,
    map,
    choose: (layerId: number) => setPane(1, { kind: "map", layerId }),
  };
}
