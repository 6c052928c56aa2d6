import VectorLayer from "ol/layer/Vector";
import { useEffect, useState } from "react";

import type { SiteSource } from "./sites";
import { siteStyles } from "./siteStyle";
import { useLayer } from "./useMap";

interface Props {
  readonly source: SiteSource;
  readonly selected: string | null;
}

export function SitesLayer({ source, selected }: Props) {
  const [layer] = useState(() => new VectorLayer({ source, zIndex: 10, declutter: false }));
  useLayer(layer);
  useEffect(() => {
    layer.setStyle((feature, resolution) =>
      siteStyles(feature, feature.getId() === selected, resolution),
    );
  }, [layer, selected]);
  return null;
}
