import Feature from "ol/Feature";
import LineString from "ol/geom/LineString";
import VectorLayer from "ol/layer/Vector";
import VectorSource from "ol/source/Vector";
import { useEffect, useEffectEvent, useState } from "react";

import { circleOf, rectangleOf, type RingOf } from "./boxSketch";
import type { Coordinate } from "./linkedView";
import { sketchStyles } from "./siteStyle";
import type { DrawTool } from "./useDraw";
import { useLayer, useMap } from "./useMap";

/** A line is drawn with the same keys as an outline, but is not closed. */
export type SketchTool = DrawTool | "line";

interface Options {
  readonly tool: SketchTool | null;
  readonly colour: string;
  readonly crosshair: () => Coordinate | null;
  readonly onDrawn: (corners: Coordinate[]) => void;
}

/** Draw without a pointer: Space sets a corner at the crosshair, Enter ends. */
export function useKeyboardSketch({ tool, colour, crosshair, onDrawn }: Options): void {
  const map = useMap();
  const [layer] = useState(() => new VectorLayer({ source: new VectorSource(), zIndex: 12 }));
  useLayer(layer);
  const tellDrawn = useEffectEvent(onDrawn);
  const askCrosshair = useEffectEvent(crosshair);

  useEffect(() => {
    const element = map.getTargetElement() as HTMLElement | null;
    if (!tool || !element) return;
    let corners: Coordinate[] = [];
    const show = (next: Coordinate[]) => {
      corners = next;
      layer.getSource()?.clear(true);
      if (next.length > 0) layer.getSource()?.addFeature(new Feature(new LineString(next)));
    };
    const finish = (drawn: Coordinate[]) => {
      show([]);
      tellDrawn(drawn);
    };
    const key = (event: KeyboardEvent) => {
      const next = stepSketch(event.key, tool, corners, askCrosshair());
      if (!next) return;
      event.preventDefault();
      if (next.done) finish(next.corners);
      else show(next.corners);
    };
    element.addEventListener("keydown", key);
    return () => {
      element.removeEventListener("keydown", key);
      layer.getSource()?.clear(true);
    };
  }, [map, layer, tool]);

  useEffect(() => layer.setStyle(sketchStyles(colour)), [layer, colour]);
}

/** Rectangles and circles end by themselves. */
const LEAST_CORNERS: Record<SketchTool, number> = {
  outline: 3,
  rectangle: Infinity,
  circle: Infinity,
  line: 2,
};

const RINGS: Partial<Record<SketchTool, RingOf>> = { rectangle: rectangleOf, circle: circleOf };

interface Step {
  corners: Coordinate[];
  done: boolean;
}

function stepSketch(
  key: string,
  tool: SketchTool,
  corners: Coordinate[],
  at: Coordinate | null,
): Step | null {
  if (key === "Escape" && corners.length > 0) return { corners: [], done: false };
  if (key === "Backspace" && corners.length > 0) {
    return { corners: corners.slice(0, -1), done: false };
  }
  if (key === "Enter" && corners.length >= LEAST_CORNERS[tool]) return { corners, done: true };
  if (key !== " " || !at) return null;
  const [first] = corners;
  const ringOf = RINGS[tool];
  if (ringOf && first) return { corners: ringOf(first, at), done: true };
  return { corners: [...corners, at], done: false };
}
