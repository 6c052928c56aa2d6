import Feature from "ol/Feature";
import Polygon from "ol/geom/Polygon";
import PointerInteraction from "ol/interaction/Pointer";
import VectorLayer from "ol/layer/Vector";
import type MapBrowserEvent from "ol/MapBrowserEvent";
import VectorSource from "ol/source/Vector";
import { useEffect, useEffectEvent, useState } from "react";

import {
  type BoxSketch,
  type Corner,
  NO_SKETCH,
  press,
  preview,
  release,
  type RingOf,
} from "./boxSketch";
import type { Coordinate } from "./linkedView";
import { type Outline, outlineOf } from "./sites";
import { sketchStyles } from "./siteStyle";
import { useLayer, useMap } from "./useMap";

/** Draw a rectangle or circle by dragging it or by two clicks; whether a first corner waits for the second.
 * It is given up with Escape, with undo, and when the colour (another class) or the tool changes. */
export function useDrawBox(
  ringOf: RingOf | null,
  colour: string,
  onDrawn: (outline: Outline) => void,
): boolean {
  const map = useMap();
  const [layer] = useState(() => new VectorLayer({ source: new VectorSource(), zIndex: 12 }));
  useLayer(layer);
  const [waiting, setWaiting] = useState(false);
  const tellDrawn = useEffectEvent(onDrawn);
  useEffect(() => layer.setStyle(sketchStyles(colour)), [layer, colour]);
  useEffect(() => {
    if (!ringOf) return;
    let sketch = NO_SKETCH;
    const show = (ring: Coordinate[] | null) => {
      layer.getSource()?.clear(true);
      if (ring) layer.getSource()?.addFeature(new Feature(new Polygon([ring])));
    };
    const become = (next: BoxSketch) => {
      sketch = next;
      setWaiting(next.first !== null);
    };
    const giveUp = () => {
      become(NO_SKETCH);
      show(null);
    };
    const interaction = new PointerInteraction({
      handleDownEvent: (event) => {
        become(press(sketch, cornerOf(event)));
        return true;
      },
      handleDragEvent: (event) => show(preview(sketch, cornerOf(event), ringOf)),
      handleMoveEvent: (event) => show(preview(sketch, cornerOf(event), ringOf)),
      handleUpEvent: (event) => {
        const { sketch: next, ring } = release(sketch, cornerOf(event), ringOf);
        become(next);
        if (ring) {
          show(null);
          tellDrawn(outlineOf(ring));
        }
        return false;
      },
    });
    const key = (event: KeyboardEvent) => {
      if (event.target instanceof HTMLInputElement || sketch === NO_SKETCH) return;
      const isUndo = (event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z";
      if (event.key !== "Escape" && event.key !== "Backspace" && !isUndo) return;
      giveUp();
      // It was for the corner: nothing else is undone or closed by it.
      event.stopPropagation();
      event.preventDefault();
    };
    map.addInteraction(interaction);
    document.addEventListener("keydown", key, { capture: true });
    return () => {
      document.removeEventListener("keydown", key, { capture: true });
      map.removeInteraction(interaction);
      giveUp();
    };
  }, [map, layer, ringOf, colour]);
  return waiting;
}

function cornerOf(event: MapBrowserEvent): Corner {
  const [x = 0, y = 0] = event.coordinate;
  const [right = 0, down = 0] = event.pixel;
  return { at: [x, y], pixel: [right, down] };
}
