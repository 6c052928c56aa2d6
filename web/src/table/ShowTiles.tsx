import { useClusterMap } from "../api/queries/clusters";
import { useMaps } from "../api/queries/maps";
import { usePictures } from "../api/queries/pictures";
import type { Grid } from "../api/types";
import { type Clip, type LinkedView, TileLayer, type TileState } from "../map";
import { useStudyId } from "../shared/study";
import { useLiveClusters } from "../shared/useClusters";
import { ownMethod, useCurrentTraining } from "../shared/useCurrent";
import { useKnownScenes } from "../shared/useKnownScenes";
import type { PaneShow } from "../shared/view";
import { useView } from "../shared/viewStore";
import { TILE_FIELDS, tilesOf } from "./tileUrl";
import { useMendedShow } from "./useMendedShow";

interface Props {
  readonly linked: LinkedView;
  readonly show: PaneShow;
  readonly clip?: Clip;
  readonly zIndex?: number;
  readonly onState: (state: TileState) => void;
}

/** The tiles of anything that a pane can show. */
export function ShowTiles({ show: wanted, ...rest }: Props) {
  const show = useMendedShow(wanted);
  const studyId = useStudyId();
  const view = useView(...TILE_FIELDS);
  const { data: training } = useCurrentTraining(ownMethod(show));
  const clusters = useLiveClusters(show.kind === "clusters");
  const named = useClusterMap(studyId, show.kind === "named" ? show.layerId : null);
  const tiles = tilesOf(show, studyId, view, {
    live: training?.live.version ?? null,
    clusters: clusters.data?.version ?? null,
    named: named.data?.version ?? null,
  });
  const grid = useGridOf(show);
  const problem = usePictureProblem(show);
  if (!tiles || !grid) return null;
  // A picture whose address answers again starts anew: tiles that failed are not asked for twice.
  const key = [tiles.kind, ...Object.values(grid.extent), grid.pixel_size, problem].join(" ");
  return <TileLayer key={key} grid={grid} url={tiles.url} kind={tiles.kind} {...rest} />;
}

function usePictureProblem(show: PaneShow): string | null {
  const { data: pictures } = usePictures(useStudyId());
  if (show.kind !== "picture") return null;
  return pictures?.find((picture) => picture.id === show.pictureId)?.problem ?? null;
}

function useGridOf(show: PaneShow): Grid | undefined {
  const studyId = useStudyId();
  const { sceneId: workId } = useView("sceneId");
  const scenes = useKnownScenes();
  const { data: layers } = useMaps(studyId);
  const { data: pictures } = usePictures(studyId);
  if ("layerId" in show) return layers?.find(({ id }) => id === show.layerId)?.grid ?? undefined;
  if (show.kind === "picture") {
    return pictures?.find((picture) => picture.id === show.pictureId)?.grid;
  }
  const sceneId = "sceneId" in show ? show.sceneId : workId;
  return scenes.find((scene) => scene.id === sceneId)?.display;
}
