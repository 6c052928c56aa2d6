import Draw, { createBox, type DrawEvent } from "ol/interaction/Draw";
import { useEffect, useEffectEvent, useRef } from "react";

import { type Outline, toOutline } from "./sites";
import { sketchStyles } from "./siteStyle";
import { useMap } from "./useMap";

export type DrawTool = "outline" | "rectangle";

/** Draw with the pointer: corners by clicks, a rectangle by two; Escape and Backspace take back. */
export function useDraw(
  tool: DrawTool | null,
  colour: string,
  onDrawn: (outline: Outline) => void,
): void {
  const map = useMap();
  const tellDrawn = useEffectEvent(onDrawn);
  // Picking another class midway changes an outline's colour and nothing else; the single corner of
  // a rectangle is given up, since the next click anywhere would close it.
  const shown = useRef(colour);
  const sketching = useRef<Draw | null>(null);
  useEffect(() => {
    shown.current = colour;
    if (tool === "rectangle") sketching.current?.abortDrawing();
  }, [colour, tool]);
  useEffect(() => {
    if (!tool) return;
    const draw = makeDraw(tool, () => shown.current);
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
    sketching.current = draw;
    document.addEventListener("keydown", key);
    return () => {
      document.removeEventListener("keydown", key);
      map.removeInteraction(draw);
      sketching.current = null;
    };
  }, [map, tool]);
}

function makeDraw(tool: DrawTool, colour: () => string): Draw {
  const style = () => sketchStyles(colour());
  const shared = { style, stopClick: true, clickTolerance: 4 };
  return tool === "outline"
    ? new Draw({ ...shared, type: "Polygon", snapTolerance: 8 })
    : new Draw({ ...shared, type: "Circle", geometryFunction: createBox() });
}
