import { useScenes } from "../../api/queries/scenes";
import type { Scene } from "../../api/types";
import { useStudyId } from "../../shared/study";
import { useCurrentScene } from "../../shared/useCurrent";
import { useDeriveStore } from "./deriveStore";

/** The scene that layers are made from, and all that it could be. */
export function useDeriveScene(): { scene: Scene; scenes: Scene[] } {
  const { data = [] } = useScenes(useStudyId());
  const current = useCurrentScene();
  const sceneId = useDeriveStore((store) => store.sceneId);
  return { scene: data.find((one) => one.id === sceneId) ?? current, scenes: data };
}
