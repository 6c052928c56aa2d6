import { useMemo } from "react";

import { LitLayer, type Outline, outlineOf } from "../map";
import { useStation } from "../shared/stations";
import { useCurrentScene } from "../shared/useCurrent";
import { useTour } from "../shared/useTour";
import { useWork } from "../shared/workStore";

const HALF_PX = 3;

/** The place that is worth a site, marked. */
export function PaneNext() {
  const touring = useWork((store) => store.nextPlace !== null);
  return useStation() === "train" && touring ? <NextPlace /> : null;
}

function NextPlace() {
  const { place } = useTour();
  const { pixel_size: pixel } = useCurrentScene().display;
  const outline = useMemo<Outline | null>(() => {
    if (!place) return null;
    const half = HALF_PX * pixel;
    const { x, y } = place;
    return outlineOf([
      [x - half, y - half],
      [x + half, y - half],
      [x + half, y + half],
      [x - half, y + half],
    ]);
  }, [place, pixel]);
  return outline ? <LitLayer outline={outline} hollow /> : null;
}
