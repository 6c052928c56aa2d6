import Projection from "ol/proj/Projection";
import TileGrid from "ol/tilegrid/TileGrid";
import View from "ol/View";

/** The grid that all panes show: extent in its own coordinates, tiles from its top left corner. */
export interface MapGrid {
  crs: string;
  is_geographic: boolean;
  /** Metres of a unit of the coordinate system to the right, on the ellipsoid: at the bottom, in
   * the middle and at the top. */
  units_m: readonly number[];
  rows: number;
  columns: number;
  pixel_size: number;
  extent: { left: number; bottom: number; right: number; top: number };
  n_levels: number;
  tile_size: number;
}

export type Coordinate = [number, number];

export interface Place {
  centre: Coordinate;
  resolution: number;
}

/** One view that all panes share: the same centre and zoom by construction. */
export interface LinkedView {
  view: View;
  grid: MapGrid;
  projection: Projection;
  /** Whether the view still has to be fitted to the scene when a pane first has a size. */
  needsFit: boolean;
}

const CLOSEST = 24; // screen pixels per scene pixel
const FURTHEST_SIDE_PX = 180; // the scene's longer side is never drawn smaller than this
const MARGIN_SHARE = 0.35;

export function createLinkedView(grid: MapGrid, start: Place | null): LinkedView {
  const extent = extentOf(grid);
  const projection = new Projection({ code: `grid:${grid.crs}`, units: "m", extent });
  const side = Math.max(grid.rows, grid.columns) * grid.pixel_size;
  const margin = side * MARGIN_SHARE;
  const [left, bottom, right, top] = extent;
  const view = new View({
    projection,
    center: start?.centre ?? [(left + right) / 2, (bottom + top) / 2],
    resolution: start?.resolution ?? side / 512,
    minResolution: grid.pixel_size / CLOSEST,
    maxResolution: side / FURTHEST_SIDE_PX,
    extent: [left - margin, bottom - margin, right + margin, top + margin],
    constrainOnlyCenter: true,
    enableRotation: false,
    showFullExtent: true,
  });
  return { view, grid, projection, needsFit: start === null };
}

export function extentOf({ extent }: MapGrid): [number, number, number, number] {
  return [extent.left, extent.bottom, extent.right, extent.top];
}

/** Tiles of a raster in its own grid, from its top left corner; level 0 holds all of it. */
export function makeTileGrid(grid: MapGrid): TileGrid {
  const levels = Array.from({ length: grid.n_levels }, (_, z) => 2 ** (grid.n_levels - 1 - z));
  return new TileGrid({
    origin: [grid.extent.left, grid.extent.top],
    extent: extentOf(grid),
    resolutions: levels.map((factor) => factor * grid.pixel_size),
    tileSize: grid.tile_size,
  });
}

/** Metres of a unit of the coordinate system to the right, at a height. */
export function unitAt({ units_m: units, extent }: MapGrid, y: number): number {
  const [bottom = 1, middle = bottom, top = middle] = units;
  const at = (2 * (y - extent.bottom)) / (extent.top - extent.bottom);
  const share = Math.min(2, Math.max(0, at));
  return share < 1 ? bottom + (middle - bottom) * share : middle + (top - middle) * (share - 1);
}

/** What the panes show just now. */
export function extentShown({ view }: LinkedView): MapGrid["extent"] {
  const [left = 0, bottom = 0, right = 0, top = 0] = view.calculateExtent();
  return { left, bottom, right, top };
}

/** The same as corners going round. */
export function cornersShown(linked: LinkedView): Coordinate[] {
  const { left, bottom, right, top } = extentShown(linked);
  return [
    [left, bottom],
    [right, bottom],
    [right, top],
    [left, top],
  ];
}

export function showWholeScene(linked: LinkedView): void {
  linked.view.fit(extentOf(linked.grid), { padding: [6, 6, 6, 6], duration: 200 });
}

/** The middle of the scene, from edge to edge of a pane of this many screen pixels. */
export function fillPane({ view, grid }: LinkedView, width: number, height: number): void {
  const wide = (grid.columns * grid.pixel_size) / width;
  const high = (grid.rows * grid.pixel_size) / height;
  view.setResolution(Math.min(wide, high));
}

/** An extent from edge to edge of the panes. */
export function showExtent({ view, grid }: LinkedView, extent: MapGrid["extent"]): void {
  const { left, bottom, right, top } = extent;
  view.fit([left, bottom, right, top], {
    padding: [24, 24, 24, 24],
    minResolution: grid.pixel_size / 8,
    duration: 200,
  });
}

/** One screen pixel per scene pixel. */
export function showNativePixels(linked: LinkedView): void {
  linked.view.animate({ resolution: linked.grid.pixel_size, duration: 200 });
}

export function zoomBy(linked: LinkedView, factor: number): void {
  const resolution = linked.view.getResolution() ?? linked.grid.pixel_size;
  linked.view.animate({ resolution: resolution / factor, duration: 150 });
}

export function centreOn(linked: LinkedView, at: Coordinate, closest?: number): void {
  const resolution = linked.view.getResolution() ?? linked.grid.pixel_size;
  linked.view.animate({
    center: at,
    resolution: closest === undefined ? resolution : Math.min(resolution, closest),
    duration: 200,
  });
}

export function placeOf(linked: LinkedView): Place | null {
  const centre = linked.view.getCenter();
  const resolution = linked.view.getResolution();
  if (!centre || resolution === undefined) return null;
  return { centre: [centre[0] ?? 0, centre[1] ?? 0], resolution };
}

/** Call when panning or zooming has come to rest; `tellMoving` hears when it starts and ends.
 * Answers with the way to stop. */
export function onRest(
  linked: LinkedView,
  tell: (place: Place) => void,
  tellMoving: (moving: boolean) => void,
): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const later = () => {
    clearTimeout(timer);
    tellMoving(true);
    timer = setTimeout(() => {
      tellMoving(false);
      const place = placeOf(linked);
      if (place) tell(place);
    }, 400);
  };
  linked.view.on(["change:center", "change:resolution"], later);
  return () => {
    clearTimeout(timer);
    tellMoving(false);
    linked.view.un(["change:center", "change:resolution"], later);
  };
}

/** The centre of the scene's pixel that holds a point. */
export function snapToPixel({ grid }: LinkedView, [x, y]: Coordinate): Coordinate {
  const { left, top } = grid.extent;
  const column = Math.floor((x - left) / grid.pixel_size);
  const row = Math.floor((top - y) / grid.pixel_size);
  return [left + (column + 0.5) * grid.pixel_size, top - (row + 0.5) * grid.pixel_size];
}

/** Move a point by whole pixels (right, down) and the view after it, where it would leave it. */
export function stepByPixels(
  linked: LinkedView,
  from: Coordinate | null,
  right: number,
  down: number,
): Coordinate {
  const size = linked.grid.pixel_size;
  const [x, y] = snapToPixel(linked, from ?? placeOf(linked)?.centre ?? [0, 0]);
  const at: Coordinate = [x + right * size, y - down * size];
  const [west = 0, south = 0, east = 0, north = 0] = linked.view.calculateExtent();
  if (at[0] < west || at[0] > east || at[1] < south || at[1] > north) {
    linked.view.setCenter(at);
  }
  return at;
}
