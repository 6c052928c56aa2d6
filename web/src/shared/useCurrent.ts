import { useScenes } from "../api/queries/scenes";
import { useTraining } from "../api/queries/training";
import type { Scene } from "../api/types";
import { useStudyId } from "./study";
import { useView } from "./viewStore";

/** The scene that sites are drawn on and that is classified. */
export function useCurrentScene(): Scene {
  const { sceneId } = useView();
  const { data } = useScenes(useStudyId());
  const scene = data?.find((s) => s.id === sceneId);
  if (!scene) throw new Error("The scene of the view is not there.");
  return scene;
}

/** Where training stands with the present scene, bands and sites. */
export function useCurrentTraining() {
  const { sceneId, roles } = useView();
  return useTraining(useStudyId(), sceneId, roles);
}
