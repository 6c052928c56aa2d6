import type BaseLayer from "ol/layer/Base";
import type Map from "ol/Map";
import { createContext, use, useEffect } from "react";

export const MapContext = createContext<Map | null>(null);

/** The map of the pane that this component is in. */
export function useMap(): Map {
  const map = use(MapContext);
  if (!map) throw new Error("A layer or tool stands outside a map.");
  return map;
}

/** Put a layer on the map for as long as the component lives. */
export function useLayer(layer: BaseLayer): void {
  const map = useMap();
  useEffect(() => {
    map.addLayer(layer);
    return () => {
      map.removeLayer(layer);
    };
  }, [map, layer]);
}
