import { useReadout } from "../api/queries/look";
import type { Readout } from "../api/types";
import type { Coordinate } from "../map";
import { useStudyId } from "../shared/study";
import { useCurrentTraining } from "../shared/useCurrent";
import { useShownPanes, useView } from "../shared/viewStore";
import { useCrosshairPlace } from "./useCrosshairPlace";

interface CrosshairReadout {
  place: Coordinate | null;
  /** Undefined while it is being read. */
  readout: Readout | undefined;
}

/** What all panes' layers say at the crosshair, in one answer. */
export function useCrosshairReadout(): CrosshairReadout {
  const place = useCrosshairPlace();
  const panes = useShownPanes();
  const scenes = useReadScenes();
  const { data: training } = useCurrentTraining();
  const { data } = useReadout(
    useStudyId(),
    place && {
      x: place[0],
      y: place[1],
      scenes,
      live: training?.live.version ?? null,
      layers: panes.flatMap((pane) =>
        pane.kind === "map" || pane.kind === "named" ? [pane.layerId] : [],
      ),
    },
  );
  return { place, readout: data };
}

/** Ids of the scenes whose values are read: those in the panes or behind the breaks there, else
 * the one that is worked on. */
export function useReadScenes(): number[] {
  const shown = useShownPanes().flatMap((pane) =>
    pane.kind === "scene" || pane.kind === "breaks" ? [pane.sceneId] : [],
  );
  const { sceneId } = useView("sceneId");
  return shown.length > 0 ? [...new Set(shown)] : [sceneId];
}
