import VectorLayer from "ol/layer/Vector";
import { useEffect, useState } from "react";

import { makeSiteSource, type SiteShape, syncSites } from "./sites";
import { siteStyles } from "./siteStyle";
import { useLayer } from "./useMap";

/** Outlines that are only looked at: drawn areas, boundaries, footprints. */
export function AreasLayer({ shapes }: { readonly shapes: readonly SiteShape[] }) {
  const [source] = useState(makeSiteSource);
  const [layer] = useState(
    () =>
      new VectorLayer({
        source,
        zIndex: 12,
        style: (feature, resolution) => siteStyles(feature, false, resolution),
      }),
  );
  useLayer(layer);
  useEffect(() => syncSites(source, shapes), [source, shapes]);
  return null;
}
