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
  // Picking another class midway changes the sketch's colour and nothing else.
  const shown = useRef(colour);
  useEffect(() => {
    shown.current = colour;
  }, [colour]);
  useEffect(() => {
    if (!tool) return;
    const draw = makeDraw(tool, () => shown.current);
    draw.on("drawend", (event: DrawEvent) => {
      const geometry = event.feature.getGeometry();
      if (geometry) tellDrawn(toOutline(geometry));
    });
    const key = (event: KeyboardEvent) => {
      if (event.target instanceof HTMLInputElement) return;
      if (event.key === "Escape") draw.abortDrawing();
      if (event.key === "Backspace") draw.removeLastPoint();
    };
    map.addInteraction(draw);
    document.addEventListener("keydown", key);
    return () => {
      document.removeEventListener("keydown", key);
      map.removeInteraction(draw);
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
