import Feature from "ol/Feature";
import LineString from "ol/geom/LineString";
import PointerInteraction from "ol/interaction/Pointer";
import VectorLayer from "ol/layer/Vector";
import type MapBrowserEvent from "ol/MapBrowserEvent";
import VectorSource from "ol/source/Vector";
import { useEffect, useEffectEvent, useState } from "react";

import type { Coordinate } from "./linkedView";
import { sketchStyles } from "./siteStyle";
import { useLayer, useMap } from "./useMap";

/** More than any hand draws in one stroke. */
const MOST_PLACES = 20_000;

interface Options {
  readonly active: boolean;
  readonly colour: string;
  /** Side of a pixel in the units of the map: no pixel on the way is left out. */
  readonly pixel: number;
  readonly crosshair: () => Coordinate | null;
  /** Places along a stroke; `on`: they are put in, with Shift they are taken out. */
  readonly onPainted: (places: Coordinate[], on: boolean) => void;
}

/** Paint pixels by dragging over them, or with Space at the crosshair. */
export function useBrush({ active, colour, pixel, crosshair, onPainted }: Options): void {
  const map = useMap();
  const [layer] = useState(() => new VectorLayer({ source: new VectorSource(), zIndex: 12 }));
  useLayer(layer);
  const tellPainted = useEffectEvent(onPainted);
  const askCrosshair = useEffectEvent(crosshair);
  useEffect(() => layer.setStyle(sketchStyles(colour)), [layer, colour]);
  useEffect(() => {
    if (!active) return;
    let stroke: Coordinate[] = [];
    const go = (event: MapBrowserEvent) => {
      stroke = along(stroke, placeOf(event), pixel / 2).slice(0, MOST_PLACES);
      layer.getSource()?.clear(true);
      layer.getSource()?.addFeature(new Feature(new LineString([...stroke, placeOf(event)])));
    };
    const interaction = new PointerInteraction({
      handleDownEvent: (event) => {
        stroke = [];
        go(event);
        return true;
      },
      handleDragEvent: go,
      handleUpEvent: (event) => {
        layer.getSource()?.clear(true);
        tellPainted(stroke, !(event.originalEvent as PointerEvent).shiftKey);
        return false;
      },
    });
    const element = map.getTargetElement() as HTMLElement | null;
    const key = (event: KeyboardEvent) => {
      const at = askCrosshair();
      if (event.key !== " " || !at) return;
      event.preventDefault();
      tellPainted([at], !event.shiftKey);
    };
    map.addInteraction(interaction);
    element?.addEventListener("keydown", key);
    return () => {
      map.removeInteraction(interaction);
      element?.removeEventListener("keydown", key);
      layer.getSource()?.clear(true);
    };
  }, [map, layer, active, pixel]);
}

function placeOf({ coordinate: [x = 0, y = 0] }: MapBrowserEvent): Coordinate {
  return [x, y];
}

/** A stroke led on to a place, in steps that are no longer than wanted. */
export function along(stroke: Coordinate[], to: Coordinate, step: number): Coordinate[] {
  const from = stroke.at(-1);
  if (!from) return [to];
  const n = Math.ceil(Math.hypot(to[0] - from[0], to[1] - from[1]) / step);
  const between = Array.from({ length: n }, (_, i): Coordinate => {
    const share = (i + 1) / n;
    return [from[0] + share * (to[0] - from[0]), from[1] + share * (to[1] - from[1])];
  });
  return [...stroke, ...between];
}
