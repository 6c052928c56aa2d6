import type { Scene } from "../../../api/types";
import { memberKey } from "../../../shared/member";
import { Select } from "../../../shared/Select";
import { useDeriveScene } from "../useDeriveScene";
import { useLayerOptions } from "../useLayerOptions";
import { useBreaksStore } from "./breaksStore";

interface Props {
  readonly scene: Scene;
  readonly role: string;
}

/** Any band of the scene, or any other layer of the study. */
export function LayerSelect({ scene, role }: Props) {
  const { scene: usual } = useDeriveScene();
  const options = useLayerOptions();
  const setLayer = useBreaksStore((store) => store.setLayer);
  const choose = (key: string) => {
    const found = options.find(({ value }) => value === key);
    if (found) setLayer(found.sceneId === usual.id ? null : found.sceneId, found.role);
  };
  return (
    <Select label="Layer" value={memberKey(scene.id, role)} options={options} onValue={choose} />
  );
}
