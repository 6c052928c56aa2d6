import { useLayers } from "../api/queries/layers";
import { useScenes } from "../api/queries/scenes";
import { type LinkedView, TileLayer } from "../map";
import { useStudyId } from "../shared/study";
import { useCurrentTraining } from "../shared/useCurrent";
import type { PaneShow } from "../shared/view";
import { useView } from "../shared/viewStore";
import { tilesOf } from "./tileUrl";

interface Props {
  readonly linked: LinkedView;
  readonly show: PaneShow;
  readonly onBusy: (busy: boolean) => void;
}

/** The picture of a pane. */
export function PaneTiles({ linked, show, onBusy }: Props) {
  const studyId = useStudyId();
  const view = useView();
  const { data: training } = useCurrentTraining();
  const { data: scenes } = useScenes(studyId);
  const { data: layers } = useLayers(studyId);
  const version = training && training.problem === null ? training.version : null;
  const tiles = tilesOf(show, studyId, view, version);

  const sceneId = show.kind === "scene" ? show.sceneId : view.sceneId;
  const grid =
    show.kind === "layer"
      ? layers?.find((layer) => layer.id === show.layerId)?.grid
      : scenes?.find((scene) => scene.id === sceneId)?.display;
  if (!tiles || !grid) return null;
  const key = `${tiles.kind} ${Object.values(grid.extent).join(" ")} ${grid.pixel_size}`;
  return (
    <TileLayer
      key={key}
      linked={linked}
      grid={grid}
      url={tiles.url}
      kind={tiles.kind}
      onBusy={onBusy}
    />
  );
}
