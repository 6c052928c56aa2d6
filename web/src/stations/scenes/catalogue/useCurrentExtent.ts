import { useScenes } from "../../../api/queries/scenes";
import { useStudyId } from "../../../shared/study";
import { useViewStore } from "../../../shared/viewStore";

/** The ground of the scene in hand, null in a study without one. */
export function useCurrentExtent() {
  const { data: scenes } = useScenes(useStudyId());
  const sceneId = useViewStore((store) => store.view?.sceneId);
  return scenes?.find((scene) => scene.id === sceneId)?.display.extent ?? null;
}
