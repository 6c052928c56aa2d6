import { chakra } from "@chakra-ui/react";

import { centreOn, type MapGrid } from "../map";
import { useStudyId } from "../shared/study";
import { useKnownScenes } from "../shared/useKnownScenes";
import { useView } from "../shared/viewStore";
import { useWork } from "../shared/workStore";
import { TILE_FIELDS, tilesOf } from "./tileUrl";

const Picture = chakra("button", {
  base: { borderRadius: "2px", cursor: "pointer", bg: "surround", flex: "none" },
});
const CLOSE = 1; // pixels of the scene per screen pixel, at least

interface Props {
  readonly x: number;
  readonly y: number;
  readonly size: number;
  readonly label: string;
}

/** A small picture of a place, as the first pane with a scene shows it; it leads there. */
export function Chip({ x, y, size, label }: Props) {
  const studyId = useStudyId();
  const view = useView("panes", ...TILE_FIELDS);
  const scenes = useKnownScenes();
  const linked = useWork((store) => store.linked);
  const show = view.panes.find((pane) => pane.kind === "scene");
  const grid = scenes.find(({ id }) => id === show?.sceneId)?.display;
  const tiles = show && tilesOf(show, studyId, view);
  if (!grid || !tiles) return null;
  const { url, left, top } = placeOn(grid, tiles.url, x, y, size);
  return (
    <Picture
      type="button"
      aria-label={label}
      title={label}
      style={{
        width: size,
        height: size,
        backgroundImage: `url("${url}")`,
        backgroundPosition: `${-left}px ${-top}px`,
      }}
      onClick={() => linked && centreOn(linked, [x, y], linked.grid.pixel_size / CLOSE)}
    />
  );
}

/** The tile at native resolution that holds a place, and where in it the picture begins. */
function placeOn(grid: MapGrid, url: string, x: number, y: number, size: number) {
  const { extent, pixel_size, tile_size, n_levels } = grid;
  const column = (x - extent.left) / pixel_size;
  const row = (extent.top - y) / pixel_size;
  const inside = (at: number) =>
    Math.min(tile_size - size, Math.max(0, Math.round((at % tile_size) - size / 2)));
  return {
    url: url
      .replace("{z}", String(n_levels - 1))
      .replace("{y}", String(Math.floor(row / tile_size)))
      .replace("{x}", String(Math.floor(column / tile_size))),
    left: inside(column),
    top: inside(row),
  };
}
