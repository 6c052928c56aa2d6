import type { FeatureLike } from "ol/Feature";
import Circle from "ol/style/Circle";
import Fill from "ol/style/Fill";
import Stroke from "ol/style/Stroke";
import Style from "ol/style/Style";
import Text from "ol/style/Text";

import { shapeOf, type SiteShape } from "./sites";

const INK = "#1C2A35";
const BROKEN = [7, 5];

/** Pixels of the screen: a smaller outline is a mark without a name. */
const SMALL = 9;
const LARGE_ENOUGH_FOR_NAME = 24;
const known = new Map<string, Style[]>();

/** A dark, a light and a coloured line together stay readable on any ground. The styles are shared:
 *  there may be tens of thousands of sites in a view. */
export function siteStyles(feature: FeatureLike, selected: boolean, resolution: number): Style[] {
  const shape = shapeOf(feature);
  const [left = 0, bottom = 0, right = 0, top = 0] = feature.getGeometry()?.getExtent() ?? [];
  const size = Math.max(right - left, top - bottom) / resolution;
  const level = selected ? "selected" : size < SMALL ? "small" : "plain";
  const named = selected || size >= LARGE_ENOUGH_FOR_NAME;
  const key = `${shape.colour} ${named ? shape.label : ""} ${shape.broken} ${level}`;
  let styles = known.get(key);
  if (!styles) {
    styles = makeStyles(shape, level, named);
    known.set(key, styles);
  }
  return styles;
}

type Level = "selected" | "plain" | "small";
const WIDTHS: Record<Level, readonly [dark: number, light: number, coloured: number]> = {
  selected: [7, 5.2, 3],
  plain: [4, 2.8, 1.3],
  small: [3.2, 0, 1.6],
};

function makeStyles({ colour, label, broken }: SiteShape, level: Level, named: boolean): Style[] {
  const lineDash = broken && level !== "small" ? BROKEN : undefined;
  const [dark, light, coloured] = WIDTHS[level];
  // Not to be seen, but to be hit: the chosen site can be dragged by its inside.
  const fill = new Fill({ color: "rgba(255,255,255,0.01)" });
  // All dark lines first, then all light ones, then those in colour: each in one go.
  const zIndex = level === "selected" ? 3 : 0;
  return [
    new Style({
      zIndex,
      ...(level === "selected" && { fill }),
      stroke: stroke(INK, dark, lineDash),
    }),
    ...(light > 0
      ? [new Style({ zIndex: zIndex + 1, stroke: stroke("#fff", light, lineDash) })]
      : []),
    new Style({
      zIndex: zIndex + 2,
      stroke: stroke(colour, coloured, lineDash),
      ...(named && { text: nameText(label) }),
    }),
  ];
}

function nameText(label: string): Text {
  return new Text({
    text: label,
    font: "600 11px 'Atkinson Hyperlegible Next Variable', sans-serif",
    fill: new Fill({ color: INK }),
    stroke: new Stroke({ color: "#fff", width: 3 }),
    overflow: false,
  });
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
