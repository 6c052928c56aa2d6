import OlTileLayer from "ol/layer/Tile";
import type RenderEvent from "ol/render/Event";
import ImageTile from "ol/source/ImageTile";
import { useEffect, useEffectEvent, useRef, useState } from "react";

import { extentOf, type LinkedView, makeTileGrid, type MapGrid } from "./linkedView";
import { type TileState, TileWatch } from "./tileWatch";
import { useLayer, useMap } from "./useMap";

interface Props {
  readonly linked: LinkedView;
  /** The raster's own grid, in the coordinate system of the view. */
  readonly grid: MapGrid;
  /** Address with {z}, {y} (row) and {x} (column); what was there stays until the new is. */
  readonly url: string;
  /** Codes must never be blended; imagery may be, as long as it is coarser than its pixels. */
  readonly kind: "imagery" | "codes";
  /** Above others in the same pane. */
  readonly zIndex?: number;
  /** The part of the pane's width that is seen, as shares from the left. */
  readonly clip?: Clip;
  readonly onState: (state: TileState) => void;
}

export type Clip = readonly [from: number, to: number];

const WHOLE: Clip = [0, 1];

export function TileLayer({ linked, grid, url, kind, zIndex = 0, clip = WHOLE, onState }: Props) {
  const map = useMap();
  const [layer] = useState(() => makeLayer(linked, grid, url, kind));
  const tell = useEffectEvent(onState);
  const watch = useRef<TileWatch>(null);
  useLayer(layer);

  useEffect(() => {
    const made = new TileWatch(map, layer, (state) => tell(state));
    watch.current = made;
    return made.start();
  }, [map, layer]);

  useEffect(() => watch.current?.setUrl(url), [url]);

  useEffect(() => layer.setZIndex(zIndex), [layer, zIndex]);
  const [from, to] = clip;
  useEffect(() => clipLayer(layer, from, to), [layer, from, to]);
  return null;
}

/** Draw only between two shares of the pane's width; answers with the way to undo it. */
function clipLayer(layer: OlTileLayer<ImageTile>, from: number, to: number): () => void {
  layer.changed();
  if (from <= 0 && to >= 1) return () => undefined;
  const before = (event: RenderEvent) => {
    const context = event.context as CanvasRenderingContext2D;
    const { width, height } = context.canvas;
    context.save();
    context.beginPath();
    context.rect(from * width, 0, (to - from) * width, height);
    context.clip();
  };
  const after = (event: RenderEvent) => (event.context as CanvasRenderingContext2D).restore();
  layer.on("prerender", before);
  layer.on("postrender", after);
  return () => {
    layer.un("prerender", before);
    layer.un("postrender", after);
    layer.changed();
  };
}

function makeLayer(
  { projection }: LinkedView,
  grid: MapGrid,
  url: string,
  kind: Props["kind"],
): OlTileLayer<ImageTile> {
  const source = new ImageTile({
    url,
    projection,
    tileGrid: makeTileGrid(grid),
    transition: 0,
    interpolate: kind === "imagery",
    wrapX: false,
  });
  const layer = new OlTileLayer({ source, preload: 1, extent: extentOf(grid) });
  if (kind === "imagery") {
    // At native resolution and closer, a pixel is a square.
    layer.on("prerender", (event: RenderEvent) => {
      const resolution = event.frameState?.viewState.resolution ?? 0;
      const context = event.context as CanvasRenderingContext2D;
      context.imageSmoothingEnabled = resolution > grid.pixel_size * 1.001;
    });
  }
  return layer;
}
