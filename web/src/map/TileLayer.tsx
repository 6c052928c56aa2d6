import OlTileLayer from "ol/layer/Tile";
import type RenderEvent from "ol/render/Event";
import ImageTile from "ol/source/ImageTile";
import { useEffect, useEffectEvent, useState } from "react";

import { extentOf, type LinkedView, makeTileGrid, type MapGrid } from "./linkedView";
import { useLayer } from "./useMap";

interface Props {
  readonly linked: LinkedView;
  /** The raster's own grid, in the coordinate system of the view. */
  readonly grid: MapGrid;
  /** Address with {z}, {y} (row) and {x} (column); what was there stays until the new is. */
  readonly url: string;
  /** Codes must never be blended; imagery may be, as long as it is coarser than its pixels. */
  readonly kind: "imagery" | "codes";
  readonly onBusy: (busy: boolean) => void;
}

export function TileLayer({ linked, grid, url, kind, onBusy }: Props) {
  const [layer] = useState(() => makeLayer(linked, grid, url, kind));
  const tellBusy = useEffectEvent(onBusy);
  useLayer(layer);

  useEffect(() => {
    layer.getSource()?.setUrl(url);
  }, [layer, url]);

  useEffect(() => {
    const source = layer.getSource();
    let open = 0;
    const start = () => tellBusy(++open > 0);
    const end = () => tellBusy((open = Math.max(0, open - 1)) > 0);
    source?.on("tileloadstart", start);
    source?.on(["tileloadend", "tileloaderror"], end);
    return () => {
      source?.un("tileloadstart", start);
      source?.un(["tileloadend", "tileloaderror"], end);
      tellBusy(false);
    };
  }, [layer]);
  return null;
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
