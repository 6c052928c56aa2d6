import type { FeatureLike } from "ol/Feature";
import Circle from "ol/style/Circle";
import Fill from "ol/style/Fill";
import Stroke from "ol/style/Stroke";
import Style from "ol/style/Style";
import Text from "ol/style/Text";

import { shapeOf } from "./sites";

const INK = "#1C2A35";
const BROKEN = [7, 5];

/** A dark, a light and a coloured line together stay readable on any ground. */
export function siteStyles(feature: FeatureLike, selected: boolean): Style[] {
  const { colour, label, broken } = shapeOf(feature);
  const lineDash = broken ? BROKEN : undefined;
  // Not to be seen, but to be hit: the chosen site can be dragged by its inside.
  const fill = new Fill({ color: "rgba(255,255,255,0.01)" });
  return [
    new Style({ ...(selected && { fill }), stroke: stroke(INK, selected ? 7 : 4, lineDash) }),
    new Style({ stroke: stroke("#fff", selected ? 5.2 : 2.8, lineDash) }),
    new Style({
      stroke: stroke(colour, selected ? 3 : 1.3, lineDash),
      text: new Text({
        text: label,
        font: "600 11px 'Atkinson Hyperlegible Next Variable', sans-serif",
        fill: new Fill({ color: INK }),
        stroke: new Stroke({ color: "#fff", width: 3 }),
        overflow: false,
      }),
    }),
  ];
}

export function sketchStyles(colour: string): Style[] {
  const fill = new Fill({ color: "rgba(255,255,255,0.12)" });
  return [
    new Style({ stroke: stroke(INK, 5), fill }),
    new Style({ stroke: stroke("#fff", 3) }),
    new Style({ stroke: stroke(colour, 1.5), image: cornerMark() }),
  ];
}

export function handleStyle(): Style {
  return new Style({ image: cornerMark() });
}

function cornerMark(): Circle {
  return new Circle({
    radius: 5,
    fill: new Fill({ color: "#fff" }),
    stroke: new Stroke({ color: INK, width: 2 }),
  });
}

function stroke(color: string, width: number, lineDash?: number[]): Stroke {
  return new Stroke({ color, width, lineJoin: "round", ...(lineDash && { lineDash }) });
}
