import Overlay from "ol/Overlay";
import { useEffect, useState } from "react";

import type { Coordinate } from "./linkedView";
import { useMap } from "./useMap";

interface Props {
  /** Calls back with every new place; answers with the way to stop. */
  readonly follow: (tell: (at: Coordinate | null) => void) => () => void;
}

const MARK =
  '<svg width="33" height="33" viewBox="0 0 33 33" aria-hidden="true">' +
  '<path d="M16.5 1v12M16.5 20v12M1 16.5h12M20 16.5h12" stroke="#1C2A35" stroke-width="3.6" opacity=".75"/>' +
  '<path d="M16.5 1v12M16.5 20v12M1 16.5h12M20 16.5h12" stroke="#fff" stroke-width="1.5"/></svg>';

/** The place that all panes look at; moved without drawing anything else anew. */
export function Crosshair({ follow }: Props) {
  const map = useMap();
  const [overlay] = useState(makeOverlay);
  useEffect(() => {
    map.addOverlay(overlay);
    const stop = follow((at) => overlay.setPosition(at ?? undefined));
    return () => {
      stop();
      map.removeOverlay(overlay);
    };
  }, [map, overlay, follow]);
  return null;
}

function makeOverlay(): Overlay {
  const element = document.createElement("div");
  element.innerHTML = MARK;
  element.style.pointerEvents = "none";
  element.style.lineHeight = "0";
  return new Overlay({ element, positioning: "center-center", stopEvent: false });
}
