import { useScenes } from "../../api/queries/scenes";
import type { Scene } from "../../api/types";
import { useStudyId } from "../../shared/study";
import { useChain } from "./chainStore";

/** Scenes that can be corrected (a series is not, nor what was derived), and those that are chosen. */
export function useChosenScenes(): { scenes: Scene[]; chosen: Scene[] } {
  const { data = [] } = useScenes(useStudyId());
  const sceneIds = useChain((store) => store.sceneIds);
  const scenes = data.filter(({ series, origin }) => series === null && origin !== "derived");
  return { scenes, chosen: scenes.filter((scene) => sceneIds.includes(scene.id)) };
}
