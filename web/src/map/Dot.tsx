import Overlay from "ol/Overlay";
import { useEffect, useState } from "react";

import type { Coordinate } from "./linkedView";
import { useMap } from "./useMap";

interface Props {
  /** Calls back with every new place; answers with the way to stop. */
  readonly follow: (tell: (at: Coordinate | null) => void) => () => void;
  /** An SVG picture. */
  readonly picture: string;
}

/** A small picture on the map that is moved without drawing anything else anew. */
export function Dot({ follow, picture }: Props) {
  const map = useMap();
  const [overlay] = useState(() => makeOverlay(picture));
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

function makeOverlay(picture: string): Overlay {
  const element = document.createElement("div");
  element.innerHTML = picture;
  element.style.pointerEvents = "none";
  element.style.lineHeight = "0";
  return new Overlay({ element, positioning: "center-center", stopEvent: false });
}
