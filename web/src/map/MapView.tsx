import { defaults as defaultInteractions } from "ol/interaction/defaults";
import Map from "ol/Map";
import type MapBrowserEvent from "ol/MapBrowserEvent";
import { type ReactNode, useEffect, useEffectEvent, useRef, useState } from "react";

import type { Coordinate, LinkedView } from "./linkedView";
import { fillPane } from "./linkedView";
import { MapContext } from "./useMap";

interface Props {
  readonly linked: LinkedView;
  readonly label: string;
  readonly onPointer: (at: Coordinate) => void;
  /** A click that no tool has taken. */
  readonly onClick: (at: Coordinate) => void;
  /** The pointer or the focus came in. */
  readonly onEnter: () => void;
  readonly onKey: (event: KeyboardEvent) => void;
  readonly children: ReactNode;
}

/** One pane's map on the shared view; layers and tools are its children. */
export function MapView(props: Props) {
  const { linked, label, onPointer, onClick, onEnter, onKey, children } = props;
  const target = useRef<HTMLDivElement>(null);
  const [map] = useState(() => makeMap(linked));
  const tellPointer = useEffectEvent(onPointer);
  const tellClick = useEffectEvent(onClick);
  const tellKey = useEffectEvent(onKey);

  useEffect(() => {
    const element = target.current;
    if (!element) return;
    const move = (event: MapBrowserEvent) => {
      const [x, y] = event.coordinate;
      if (!event.dragging && x !== undefined && y !== undefined) tellPointer([x, y]);
    };
    const click = (event: MapBrowserEvent) => {
      const [x, y] = event.coordinate;
      if (x !== undefined && y !== undefined) tellClick([x, y]);
    };
    const key = (event: KeyboardEvent) => tellKey(event);
    map.setTarget(element);
    map.on("pointermove", move);
    map.on("click", click);
    element.addEventListener("keydown", key);
    fitOnce(map, linked);
    return () => {
      map.un("pointermove", move);
      map.un("click", click);
      element.removeEventListener("keydown", key);
      map.setTarget(undefined);
    };
  }, [map, linked]);

  return (
    <MapContext value={map}>
      <div
        ref={target}
        role="application"
        aria-label={label}
        aria-keyshortcuts="ArrowUp ArrowDown ArrowLeft ArrowRight + -"
        tabIndex={0}
        onPointerEnter={onEnter}
        onFocus={onEnter}
        style={{ position: "absolute", inset: 0, cursor: "crosshair" }}
      />
      {children}
    </MapContext>
  );
}

function makeMap(linked: LinkedView): Map {
  const interactions = defaultInteractions({
    altShiftDragRotate: false,
    pinchRotate: false,
    doubleClickZoom: false,
    keyboard: false,
  });
  return new Map({ view: linked.view, controls: [], interactions });
}

/** The first pane with a size decides how the scene is first seen. */
function fitOnce(map: Map, linked: LinkedView): void {
  const [width = 0, height = 0] = map.getSize() ?? [];
  if (!linked.needsFit || width === 0 || height === 0) return;
  linked.needsFit = false;
  fillPane(linked, width, height);
}
