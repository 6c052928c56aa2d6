import { useMaps } from "../api/queries/maps";
import type { ClassMap } from "../api/types";
import { useStudyId } from "./study";
import { useView } from "./viewStore";

/** The class map in hand: the one that a pane shows, else the newest. */
export function useShownMap(): ClassMap | null {
  const { data: maps = [] } = useMaps(useStudyId());
  const { panes } = useView("panes");
  const shown = [...panes].reverse().flatMap((pane) => (pane.kind === "map" ? pane.layerId : []));
  return maps.find((map) => shown.includes(map.id)) ?? maps[0] ?? null;
}
