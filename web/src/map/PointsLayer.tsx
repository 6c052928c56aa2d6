import Feature from "ol/Feature";
import Point from "ol/geom/Point";
import VectorLayer from "ol/layer/Vector";
import VectorSource from "ol/source/Vector";
import Circle from "ol/style/Circle";
import Fill from "ol/style/Fill";
import Stroke from "ol/style/Stroke";
import Style from "ol/style/Style";
import { useEffect, useState } from "react";

import { useLayer } from "./useMap";

export interface MapPoint {
  id: number;
  x: number;
  y: number;
  colour: string;
  /** Drawn larger, to be found among the others. */
  marked: boolean;
}

export function PointsLayer({ points }: { readonly points: readonly MapPoint[] }) {
  const [layer] = useState(() => new VectorLayer({ source: new VectorSource(), zIndex: 11 }));
  useLayer(layer);
  useEffect(() => {
    const source = layer.getSource();
    source?.clear(true);
    source?.addFeatures(points.map(toFeature));
  }, [layer, points]);
  return null;
}

function toFeature({ id, x, y, colour, marked }: MapPoint): Feature {
  const feature = new Feature(new Point([x, y]));
  feature.setId(id);
  const radius = marked ? 7 : 3;
  feature.setStyle([
    new Style({
      image: new Circle({ radius: radius + 2, fill: new Fill({ color: "#1C2A35" }) }),
    }),
    new Style({
      image: new Circle({
        radius,
        fill: new Fill({ color: colour }),
        stroke: new Stroke({ color: "#fff", width: 1.2 }),
      }),
    }),
  ]);
  return feature;
}
