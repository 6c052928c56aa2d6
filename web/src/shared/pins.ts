import { type Coordinate, snapToPixel } from "../map";
import { useViewStore } from "./viewStore";
import { useWork } from "./workStore";

/** Okabe and Ito's palette, safe for colour-blind readers; lines are no classes. */
export const LINE_COLOURS = [
  "#0072B2",
  "#D55E00",
  "#009E73",
  "#CC79A7",
  "#56B4E9",
  "#E69F00",
] as const;

export const MOST_PINS = LINE_COLOURS.length;

export function lineColour(i: number): string {
  return LINE_COLOURS[i % LINE_COLOURS.length] ?? "#000000";
}

/** Pin a place, so that its values stay; a pin there already is taken out. */
export function togglePin(place: Coordinate): void {
  const { view, change } = useViewStore.getState();
  const { linked } = useWork.getState();
  if (!view || !linked) return;
  const at = snapToPixel(linked, place);
  const rest = view.pins.filter(([x, y]) => x !== at[0] || y !== at[1]);
  const pins = rest.length < view.pins.length ? rest : [...view.pins, at];
  change({ pins: pins.slice(-MOST_PINS) });
}

export function clearPins(): void {
  useViewStore.getState().change({ pins: [] });
}
