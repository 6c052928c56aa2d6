import Feature from "ol/Feature";
import Point from "ol/geom/Point";
import VectorLayer from "ol/layer/Vector";
import VectorSource from "ol/source/Vector";
import Circle from "ol/style/Circle";
import Fill from "ol/style/Fill";
import Stroke from "ol/style/Stroke";
import Style from "ol/style/Style";
import Text from "ol/style/Text";
import { useEffect, useState } from "react";

import type { Coordinate } from "./linkedView";
import { useLayer } from "./useMap";

export interface Mark {
  at: Coordinate;
  colour: string;
  /** A number or sign on the mark. */
  sign: string;
  /** Words beside it. */
  words: string;
}

const FONT = "'Atkinson Hyperlegible Next Variable', sans-serif";

/** Places with a sign on them: pinned pixels, notes. */
export function MarksLayer({ marks }: { readonly marks: readonly Mark[] }) {
  const [layer] = useState(() => new VectorLayer({ source: new VectorSource(), zIndex: 14 }));
  useLayer(layer);
  useEffect(() => {
    const source = layer.getSource();
    source?.clear(true);
    source?.addFeatures(marks.map(toFeature));
  }, [layer, marks]);
  return null;
}

function toFeature({ at, colour, sign, words }: Mark): Feature {
  const feature = new Feature(new Point(at));
  const disc = (radius: number, color: string, line?: string) =>
    new Circle({
      radius,
      fill: new Fill({ color }),
      ...(line && { stroke: new Stroke({ color: line, width: 1.5 }) }),
    });
  feature.setStyle([
    new Style({ image: disc(10, "#1C2A35") }),
    new Style({
      image: disc(8, colour, "#fff"),
      text: new Text({
        text: sign,
        font: `700 11px ${FONT}`,
        fill: new Fill({ color: "#fff" }),
        stroke: new Stroke({ color: "#1C2A35", width: 2.5 }),
        offsetY: 1,
      }),
    }),
    new Style({
      text: new Text({
        text: words,
        font: `600 11.5px ${FONT}`,
        textAlign: "left",
        offsetX: 15,
        fill: new Fill({ color: "#1C2A35" }),
        stroke: new Stroke({ color: "#fff", width: 3.5 }),
      }),
    }),
  ]);
  return feature;
}
