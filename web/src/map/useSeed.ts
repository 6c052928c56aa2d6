import type MapBrowserEvent from "ol/MapBrowserEvent";
import { useEffect, useEffectEvent } from "react";

import type { Coordinate } from "./linkedView";
import { useMap } from "./useMap";

/** A click, or Space at the crosshair, tells a place. */
export function useSeed(
  active: boolean,
  crosshair: () => Coordinate | null,
  onSeed: (at: Coordinate) => void,
): void {
  const map = useMap();
  const tellSeed = useEffectEvent(onSeed);
  const askCrosshair = useEffectEvent(crosshair);
  useEffect(() => {
    if (!active) return;
    const click = ({ coordinate: [x = 0, y = 0] }: MapBrowserEvent) => tellSeed([x, y]);
    const element = map.getTargetElement() as HTMLElement | null;
    const key = (event: KeyboardEvent) => {
      const at = askCrosshair();
      if (event.key !== " " || !at) return;
      event.preventDefault();
      tellSeed(at);
    };
    map.on("click", click);
    element?.addEventListener("keydown", key);
    return () => {
      map.un("click", click);
      element?.removeEventListener("keydown", key);
    };
  }, [map, active]);
}
