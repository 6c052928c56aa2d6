import { useScenes } from "../api/queries/scenes";
import type { Scene } from "../api/types";
import { usePreviewStore } from "./previewStore";
import { useStudyId } from "./study";

const NONE: Scene[] = [];

/** All scenes of the study, and the layer that is being previewed. */
export function useKnownScenes(): Scene[] {
  const { data = NONE } = useScenes(useStudyId());
  const scene = usePreviewStore((store) => store.preview?.scene ?? null);
  return scene ? [...data, scene] : data;
}
