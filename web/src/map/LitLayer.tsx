import Feature from "ol/Feature";
import VectorLayer from "ol/layer/Vector";
import VectorSource from "ol/source/Vector";
import Fill from "ol/style/Fill";
import Stroke from "ol/style/Stroke";
import Style from "ol/style/Style";
import { useEffect, useState } from "react";

import { type Outline, toGeometry } from "./sites";
import { useLayer } from "./useMap";

const INK = "#1C2A35";

/** Pixels that are pointed out: a light and a dark line together, never a class colour. */
interface Props {
  readonly outline: Outline;
  /** The ground inside is to be seen as it is. */
  readonly hollow?: boolean;
}

export function LitLayer({ outline, hollow = false }: Props) {
  const [layer] = useState(
    () =>
      new VectorLayer({
        source: new VectorSource(),
        zIndex: 9,
        style: [
          new Style({
            stroke: new Stroke({ color: INK, width: 4.5 }),
            ...(!hollow && { fill: new Fill({ color: "rgba(255,255,255,0.28)" }) }),
          }),
          new Style({ stroke: new Stroke({ color: "#fff", width: 2 }) }),
        ],
      }),
  );
  useLayer(layer);
  useEffect(() => {
    const source = layer.getSource();
    source?.clear(true);
    source?.addFeature(new Feature(toGeometry(outline)));
  }, [layer, outline]);
  return null;
}
