import type { FeatureLike } from "ol/Feature";
import VectorLayer from "ol/layer/Vector";
import { useEffect, useState } from "react";

import { shapeOf, type SiteSource } from "./sites";
import { siteStyles } from "./siteStyle";
import { useLayer } from "./useMap";

interface Props {
  readonly source: SiteSource;
  readonly selected: string | null;
}

/** So that lines that look alike come one after the other. */
const byColour = (a: FeatureLike, b: FeatureLike) =>
  shapeOf(a).colour < shapeOf(b).colour ? -1 : 1;

export function SitesLayer({ source, selected }: Props) {
  const [layer] = useState(
    () => new VectorLayer({ source, zIndex: 10, declutter: false, renderOrder: byColour }),
  );
  useLayer(layer);
  useEffect(() => {
    layer.setStyle((feature, resolution) =>
      siteStyles(feature, feature.getId() === selected, resolution),
    );
  }, [layer, selected]);
  return null;
}
