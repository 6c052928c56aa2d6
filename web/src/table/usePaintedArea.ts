import { usePaint } from "../api/queries/growing";
import type { Coordinate, Outline } from "../map";
import { useStudyId } from "../shared/study";
import { useCurrentScene } from "../shared/useCurrent";
import { useView } from "../shared/viewStore";
import { useWork } from "../shared/workStore";

const KEY = "area:painted";

/** One area of pixels that are painted stroke by stroke: those of the map that is tidied, where one
 *  is shown, else of the work scene. */
export function usePaintedArea() {
  const { sceneId, panes } = useView("sceneId", "panes");
  const { display } = useCurrentScene();
  const painting = usePaint(useStudyId());
  const set = useWork((store) => store.set);
  const map = panes.find((pane) => pane.kind === "tidied" || pane.kind === "map");
  const layerId = map && "layerId" in map ? map.layerId : sceneId;
  const paint = (places: Coordinate[], on: boolean) => {
    const before = useWork.getState().areas.find(({ key }) => key === KEY);
    painting.mutate(
      { sceneId: layerId, geometry: before ? { ...before.outline } : null, places, on },
      {
        onSuccess: ({ geometry }) => {
          const others = useWork.getState().areas.filter(({ key }) => key !== KEY);
          const outline = geometry as unknown as Outline | null;
          set({ areas: outline ? [...others, { key: KEY, name: "Painted", outline }] : others });
        },
      },
    );
  };
  return { paint, pixel: display.pixel_size };
}
