import Draw, { type DrawEvent } from "ol/interaction/Draw";
import { useEffect, useEffectEvent, useRef } from "react";

import { circleOf, rectangleOf } from "./boxSketch";
import { type Outline, toOutline } from "./sites";
import { sketchStyles } from "./siteStyle";
import { useDrawBox } from "./useDrawBox";
import { useMap } from "./useMap";

export type DrawTool = "outline" | "rectangle" | "circle";
/** What draws areas that are no sites. */
export type AreaTool = Exclude<DrawTool, "circle"> | "brush";

const RINGS = { rectangle: rectangleOf, circle: circleOf };

/** Draw with the pointer; whether the first corner of a rectangle or circle waits for the second. */
export function useDraw(
  tool: DrawTool | null,
  colour: string,
  onDrawn: (outline: Outline) => void,
): boolean {
  useDrawOutline(tool === "outline", colour, onDrawn);
  const ringOf = tool === null || tool === "outline" ? null : RINGS[tool];
  return useDrawBox(ringOf, colour, onDrawn);
}

/** Corners by clicks; Escape and Backspace take back. */
function useDrawOutline(
  active: boolean,
  colour: string,
  onDrawn: (outline: Outline) => void,
): void {
  const map = useMap();
  const tellDrawn = useEffectEvent(onDrawn);
  // Picking another class midway changes an outline's colour and nothing else.
  const shown = useRef(colour);
  useEffect(() => {
    shown.current = colour;
  }, [colour]);
  useEffect(() => {
    if (!active) return;
    const draw = new Draw({
      type: "Polygon",
      style: () => sketchStyles(shown.current),
      stopClick: true,
      clickTolerance: 4,
      snapTolerance: 8,
    });
    draw.on("drawend", (event: DrawEvent) => {
      const geometry = event.feature.getGeometry();
      if (geometry) tellDrawn(toOutline(geometry));
    });
    const key = (event: KeyboardEvent) => {
      if (event.target instanceof HTMLInputElement) return;
      const isUndo = (event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z";
      if (event.key === "Escape" || isUndo) draw.abortDrawing();
      if (event.key === "Backspace") draw.removeLastPoint();
    };
    map.addInteraction(draw);
    document.addEventListener("keydown", key);
    return () => {
      document.removeEventListener("keydown", key);
      map.removeInteraction(draw);
    };
  }, [map, active]);
}
