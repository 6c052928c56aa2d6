import { type LinkedView, stepByPixels, zoomBy } from "../map";
import { crosshairNow, moveCrosshair } from "../shared/pointerStore";

const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** Arrow keys move the crosshair by a pixel, with Shift by ten; + and - zoom. */
export function handlePaneKey(event: KeyboardEvent, linked: LinkedView): void {
  const step = STEPS[event.key];
  if (step) {
    const by = event.shiftKey ? 10 : 1;
    moveCrosshair(stepByPixels(linked, crosshairNow(), by * step[0], by * step[1]));
    event.preventDefault();
  } else if (event.key === "+" || event.key === "-") {
    zoomBy(linked, event.key === "+" ? 1.5 : 1 / 1.5);
    event.preventDefault();
  }
}
