import Feature from "ol/Feature";
import LineString from "ol/geom/LineString";
import Draw, { type DrawEvent } from "ol/interaction/Draw";
import Modify from "ol/interaction/Modify";
import VectorLayer from "ol/layer/Vector";
import VectorSource from "ol/source/Vector";
import { useEffect, useEffectEvent, useState } from "react";

import type { Coordinate } from "./linkedView";
import { handleStyle, sketchStyles } from "./siteStyle";
import { useKeyboardSketch } from "./useKeyboardSketch";
import { useLayer, useMap } from "./useMap";

interface Props {
  readonly line: readonly Coordinate[] | null;
  readonly drawing: boolean;
  readonly colour: string;
  readonly crosshair: () => Coordinate | null;
  readonly onDrawn: (line: Coordinate[]) => void;
}

/** The line whose values are read: drawn with clicks or keys, its corners moved afterwards. */
export function LineTools({ line, drawing, colour, crosshair, onDrawn }: Props) {
  const map = useMap();
  const [source] = useState(() => new VectorSource());
  const [layer] = useState(() => new VectorLayer({ source, zIndex: 13 }));
  useLayer(layer);
  const tellDrawn = useEffectEvent(onDrawn);
  useKeyboardSketch({ tool: drawing ? "line" : null, colour, crosshair, onDrawn });

  useEffect(() => layer.setStyle(sketchStyles(colour)), [layer, colour]);

  useEffect(() => {
    source.clear(true);
    if (line && !drawing) source.addFeature(new Feature(new LineString([...line])));
  }, [source, line, drawing]);

  useEffect(() => {
    const tool = drawing
      ? new Draw({ type: "LineString", style: sketchStyles(colour), stopClick: true })
      : new Modify({ source, style: handleStyle(), pixelTolerance: 12 });
    const drawn = (event: DrawEvent) => tellDrawn(cornersOf(event.feature.getGeometry()));
    const moved = () => tellDrawn(cornersOf(source.getFeatures()[0]?.getGeometry()));
    if (tool instanceof Draw) tool.on("drawend", drawn);
    else tool.on("modifyend", moved);
    const key = (event: KeyboardEvent) => {
      if (!(tool instanceof Draw)) return;
      if (event.key === "Escape") tool.abortDrawing();
      if (event.key === "Backspace") tool.removeLastPoint();
    };
    map.addInteraction(tool);
    document.addEventListener("keydown", key);
    return () => {
      document.removeEventListener("keydown", key);
      map.removeInteraction(tool);
    };
  }, [map, source, drawing, colour]);
  return null;
}

function cornersOf(geometry: unknown): Coordinate[] {
  if (!(geometry instanceof LineString)) return [];
  return geometry.getCoordinates().map(([x = 0, y = 0]) => [x, y]);
}
