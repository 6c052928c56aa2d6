import { useMaps } from "../api/queries/maps";
import type { ClassMap } from "../api/types";
import { useStudyId } from "./study";
import { useView } from "./viewStore";

/** The class map in hand: the one that a pane shows, else the newest. */
export function useShownLayer(): ClassMap | null {
  const { data: layers = [] } = useMaps(useStudyId());
  const { panes } = useView();
  const shown = [...panes].reverse().flatMap((pane) => (pane.kind === "map" ? pane.layerId : []));
  return layers.find((layer) => shown.includes(layer.id)) ?? layers[0] ?? null;
}
