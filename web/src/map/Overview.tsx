import Map from "ol/Map";
import View from "ol/View";
import { type ReactNode, useEffect, useEffectEvent, useRef, useState } from "react";

import { type Coordinate, extentOf, type LinkedView } from "./linkedView";
import { MapContext } from "./useMap";

interface Props {
  readonly linked: LinkedView;
  readonly label: string;
  readonly children: ReactNode;
}

/** The whole scene, small, with the part that the panes show on it; a press brings them there. */
export function Overview({ linked, label, children }: Props) {
  const target = useRef<HTMLDivElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const [map] = useState(() => makeMap(linked));
  const moveTo = useEffectEvent((at: Coordinate) => linked.view.setCenter(at));

  useEffect(() => {
    const element = target.current;
    if (!element) return;
    map.setTarget(element);
    const fit = () =>
      map
        .getView()
        .fit(extentOf(linked.grid), { size: map.getSize() ?? [1, 1], padding: [3, 3, 3, 3] });
    const place = () => placeFrame(map, linked, frame.current);
    const press = (event: PointerEvent) => {
      if (event.buttons !== 1) return;
      const [x, y] = map.getEventCoordinate(event);
      if (x !== undefined && y !== undefined) moveTo([x, y]);
    };
    const resized = new ResizeObserver(() => {
      map.updateSize();
      fit();
      map.renderSync();
      place();
    });
    resized.observe(element);
    map.on("postrender", place);
    linked.view.on(["change:center", "change:resolution"], place);
    element.addEventListener("pointerdown", press);
    element.addEventListener("pointermove", press);
    return () => {
      resized.disconnect();
      map.un("postrender", place);
      linked.view.un(["change:center", "change:resolution"], place);
      element.removeEventListener("pointerdown", press);
      element.removeEventListener("pointermove", press);
      map.setTarget(undefined);
    };
  }, [map, linked]);

  return (
    <MapContext value={map}>
      <div
        ref={target}
        role="img"
        aria-label={label}
        style={{ position: "absolute", inset: 0, cursor: "move", touchAction: "none" }}
      />
      <div
        ref={frame}
        aria-hidden
        style={{
          position: "absolute",
          pointerEvents: "none",
          border: "1.5px solid #fff",
          outline: "1.5px solid #1C2A35",
        }}
      />
      {children}
    </MapContext>
  );
}

function makeMap({ projection, grid }: LinkedView): Map {
  const side = Math.max(grid.rows, grid.columns) * grid.pixel_size;
  const view = new View({
    projection,
    center: [0, 0],
    resolution: side / 128,
    maxResolution: side / 16,
    enableRotation: false,
  });
  return new Map({ view, controls: [], interactions: [] });
}

function placeFrame(map: Map, linked: LinkedView, frame: HTMLElement | null): void {
  const resolution = map.getView().getResolution();
  const centre = map.getView().getCenter();
  const size = map.getSize();
  if (!frame || resolution === undefined || !centre || !size) return;
  const [left, bottom, right, top] = linked.view.calculateExtent() as Quad;
  const [x, y] = centre as Pair;
  const [width, height] = size as Pair;
  const across = (value: number) => clamp(width / 2 + (value - x) / resolution, width);
  const down = (value: number) => clamp(height / 2 - (value - y) / resolution, height);
  Object.assign(frame.style, {
    left: `${across(left)}px`,
    top: `${down(top)}px`,
    width: `${Math.max(4, across(right) - across(left))}px`,
    height: `${Math.max(4, down(bottom) - down(top))}px`,
  });
}

type Pair = [number, number];
type Quad = [number, number, number, number];

function clamp(value: number, most: number): number {
  return Math.min(most, Math.max(0, value));
}
