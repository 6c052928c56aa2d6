import { useState } from "react";

import type { Coordinate } from "../../map";
import { formatCount } from "../../shared/format";
import { useWork } from "../../shared/workStore";

export interface Place {
  key: string;
  name: string;
  at: Coordinate | null;
  geometry: Record<string, unknown> | null;
}

const MOST = 8;

/** Places whose values are read: pinned points, and the areas in hand. */
export function usePins(): { places: Place[]; pin: () => void; clear: () => void } {
  const [points, setPoints] = useState<Place[]>([]);
  const areas = useWork((store) => store.areas);
  const drawn = areas.map(({ key, name, outline }) => ({
    key,
    name,
    at: null,
    geometry: { ...outline },
  }));
  const pin = () => {
    const at = useWork.getState().crosshair;
    if (!at) return;
    const name = `${formatCount(at[0])} E, ${formatCount(at[1])} N`;
    const key = at.join();
    if (!points.some((p) => p.key === key))
      setPoints([...points, { key, name, at, geometry: null }]);
  };
  return { places: [...points, ...drawn].slice(-MOST), pin, clear: () => setPoints([]) };
}
