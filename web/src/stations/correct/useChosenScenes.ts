import { useMaps } from "../../api/queries/maps";
import { useScenes } from "../../api/queries/scenes";
import type { ClassMap, Scene } from "../../api/types";
import { useStudyId } from "../../shared/study";
import { useChain } from "./chainStore";

/** Scenes that can be corrected (a series is not, nor what was derived), and those that are chosen. */
export function useChosenScenes(): { scenes: Scene[]; chosen: Scene[] } {
  const { data = [] } = useScenes(useStudyId());
  const layerIds = useChain((store) => store.layerIds);
  const scenes = data.filter(({ series, origin }) => series === null && origin !== "derived");
  return { scenes, chosen: scenes.filter((scene) => layerIds.includes(scene.id)) };
}

/** The class maps, and those that are chosen: they have places, masks and edges like scenes. */
export function useChosenMaps(): { maps: ClassMap[]; chosenMaps: ClassMap[] } {
  const { data: maps = [] } = useMaps(useStudyId());
  const layerIds = useChain((store) => store.layerIds);
  return { maps, chosenMaps: maps.filter((map) => layerIds.includes(map.id)) };
}
