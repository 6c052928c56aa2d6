import { useEffect, useState } from "react";

import { type Coordinate, snapToPixel } from "../map";
import { tellBusy } from "../shared/busyStore";
import { crosshairNow, followCrosshair } from "../shared/pointerStore";
import { useWork } from "../shared/workStore";

const PAUSE_MS = 50;

/** The centre of the pixel under the crosshair, at most twenty times a second. */
export function useCrosshairPlace(): Coordinate | null {
  const [place, setPlace] = useState<Coordinate | null>(null);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const read = () => {
      timer = undefined;
      tellBusy("crosshair", false);
      const crosshair = crosshairNow();
      const { linked } = useWork.getState();
      if (!crosshair || !linked) return;
      const next = snapToPixel(linked, crosshair);
      setPlace((last) => (last?.[0] === next[0] && last[1] === next[1] ? last : next));
    };
    const stop = followCrosshair(() => {
      tellBusy("crosshair", true);
      timer ??= setTimeout(read, PAUSE_MS);
    });
    return () => {
      tellBusy("crosshair", false);
      clearTimeout(timer);
      stop();
    };
  }, []);
  return place;
}
