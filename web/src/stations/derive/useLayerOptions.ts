import { useScenes } from "../../api/queries/scenes";
import type { Option } from "../../shared/Select";
import { memberKey } from "../../shared/member";
import { useStudyId } from "../../shared/study";
import { inOrder } from "../../shared/sceneOrder";
import { useDeriveScene } from "./useDeriveScene";

export interface LayerOption extends Option {
  sceneId: number;
  role: string;
}

/** Every band of every scene by id and role, the scene in hand first; series are left out. */
export function useLayerOptions(): LayerOption[] {
  const { data = [] } = useScenes(useStudyId());
  const { scene } = useDeriveScene();
  const others = inOrder(data.filter((one) => one.id !== scene.id && one.series === null));
  return [scene, ...others].flatMap(({ id, title, bands }) =>
    bands.map(({ role }) => ({
      value: memberKey(id, role),
      label: id === scene.id ? role : `${role}, ${title}`,
      sceneId: id,
      role,
    })),
  );
}
