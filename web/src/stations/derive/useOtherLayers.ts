import { useLayerNames } from "../../api/queries/deriveAids";
import type { LayerName, Scene } from "../../api/types";
import { useStudyId } from "../../shared/study";
import { useDeriveScene } from "./useDeriveScene";

/** The layers of a study beside a scene's own bands; of series, which may be long, none. */
export function useOtherLayers(scene: Scene): LayerName[] {
  const { scenes } = useDeriveScene();
  const { data: names = [] } = useLayerNames(useStudyId());
  const singles = new Set(scenes.filter((one) => one.series === null).map((one) => one.id));
  return names.filter(
    ({ name, scene_id }) => name.includes(".") && scene_id !== scene.id && singles.has(scene_id),
  );
}
