import type { Coordinate } from "../map";
import { createForStudy } from "./studyStore";

interface PointerStore {
  crosshair: Coordinate | null;
  /** Where the pointer is on the chart of the line. */
  linePlace: Coordinate | null;
}

/** Apart from all else that is in hand: it changes with every move of the pointer. Nothing that is
 * drawn by React reads it, but what has to follow does. */
const usePointer = createForStudy<PointerStore>(() => ({ crosshair: null, linePlace: null }));

type Tell = (at: Coordinate | null) => void;

function follow(what: keyof PointerStore, tell: Tell): () => void {
  tell(usePointer.getState()[what]);
  return usePointer.subscribe((now, before) => {
    if (now[what] !== before[what]) tell(now[what]);
  });
}

export function crosshairNow(): Coordinate | null {
  return usePointer.getState().crosshair;
}

export function moveCrosshair(crosshair: Coordinate | null): void {
  usePointer.setState({ crosshair });
}

/** Follow the crosshair without drawing anything anew. */
export function followCrosshair(tell: Tell): () => void {
  return follow("crosshair", tell);
}

export function moveLinePlace(linePlace: Coordinate | null): void {
  usePointer.setState({ linePlace });
}

/** Follow the place on the chart of the line in the same way. */
export function followLinePlace(tell: Tell): () => void {
  return follow("linePlace", tell);
}
