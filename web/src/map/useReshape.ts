import Collection from "ol/Collection";
import Modify from "ol/interaction/Modify";
import Translate from "ol/interaction/Translate";
import type MapBrowserEvent from "ol/MapBrowserEvent";
import { useEffect, useEffectEvent } from "react";

import { changeableSite, type Outline, siteAt, type SiteSource, toOutline } from "./sites";
import { handleStyle } from "./siteStyle";
import { useMap } from "./useMap";

interface Options {
  readonly source: SiteSource;
  readonly active: boolean;
  readonly selected: string | null;
  readonly onSelect: (key: string | null) => void;
  readonly onReshaped: (key: string, outline: Outline) => void;
}

/** Click to choose a site; drag the chosen one's corners and edges, or the whole of it. */
export function useReshape({ source, active, selected, onSelect, onReshaped }: Options): void {
  const map = useMap();
  const tellSelect = useEffectEvent(onSelect);
  const tellReshaped = useEffectEvent(onReshaped);

  useEffect(() => {
    if (!active) return;
    const click = (event: MapBrowserEvent) => tellSelect(siteAt(source, event.coordinate));
    map.on("singleclick", click);
    return () => map.un("singleclick", click);
  }, [map, source, active]);

  useEffect(() => {
    const feature = !active || selected === null ? null : changeableSite(source, selected);
    if (selected === null || feature === null) return;
    const features = new Collection([feature]);
    const end = () => {
      const geometry = feature.getGeometry();
      if (geometry) tellReshaped(selected, toOutline(geometry));
    };
    const translate = new Translate({ features, hitTolerance: 2, filter: () => true });
    const modify = new Modify({ features, pixelTolerance: 9, style: handleStyle() });
    translate.on("translateend", end);
    modify.on("modifyend", end);
    map.addInteraction(translate);
    map.addInteraction(modify);
    return () => {
      map.removeInteraction(modify);
      map.removeInteraction(translate);
    };
  }, [map, source, active, selected]);
}
