import { useLayers } from "../api/queries/layers";
import type { Layer } from "../api/types";
import { useStudyId } from "./study";
import { useView } from "./viewStore";

/** The class map in hand: the one that a pane shows, else the newest. */
export function useShownLayer(): Layer | null {
  const { data: layers = [] } = useLayers(useStudyId());
  const { panes } = useView();
  const shown = [...panes].reverse().flatMap((pane) => (pane.kind === "layer" ? pane.layerId : []));
  return layers.find((layer) => shown.includes(layer.id)) ?? layers[0] ?? null;
}
