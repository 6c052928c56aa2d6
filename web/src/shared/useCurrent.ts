import { useScenes } from "../api/queries/scenes";
import { useTraining } from "../api/queries/training";
import type { Scene } from "../api/types";
import { type MethodInHand, methodQuery } from "./method";
import { useStudyId } from "./study";
import type { PaneShow } from "./view";
import { useView } from "./viewStore";

/** The scene that sites are drawn on and that is classified. */
export function useCurrentScene(): Scene {
  const { sceneId } = useView("sceneId");
  const { data } = useScenes(useStudyId());
  const scene = data?.find((s) => s.id === sceneId);
  if (!scene) throw new Error("The scene of the view is not there.");
  return scene;
}

/** Where training stands with the present scene, bands and sites; by the method in hand, unless
 *  another one is named. */
export function useCurrentTraining(other?: MethodInHand) {
  const { sceneId, roles, method } = useView("sceneId", "roles", "method");
  return useTraining(useStudyId(), sceneId, roles, methodQuery(other ?? method));
}

/** The method of its own by which a pane shows the class map as it stands, if it has one. */
export function ownMethod(show: PaneShow): MethodInHand | undefined {
  return show.kind === "live" ? show.method : undefined;
}

/** Scene, bands and method as the server is told. */
export function useTaught() {
  const { sceneId, roles, method } = useView("sceneId", "roles", "method");
  return { sceneId, roles, method: methodQuery(method) };
}

/** What a run would be told: scene, bands and the method in hand. */
export function useOrder() {
  const { sceneId, roles, method } = useView("sceneId", "roles", "method");
  const { id, settings, seed } = method;
  return { scene_id: sceneId, roles, method: id, settings, seed };
}
