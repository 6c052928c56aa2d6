import type { Scene } from "../../../api/types";
import { Select } from "../../../shared/Select";
import { useDeriveScene } from "../useDeriveScene";
import { useOtherLayers } from "../useOtherLayers";
import { useBreaksStore } from "./breaksStore";

interface Props {
  readonly scene: Scene;
  readonly role: string;
}

/** Any band of the scene, or any other layer of the study. */
export function LayerSelect({ scene, role }: Props) {
  const { scene: usual } = useDeriveScene();
  const others = useOtherLayers(usual);
  const setLayer = useBreaksStore((store) => store.setLayer);
  const keyOf = (sceneId: number, name: string) => `${sceneId}:${name}`;
  return (
    <Select
      label="Layer"
      value={keyOf(scene.id, role)}
      options={[
        ...usual.bands.map((band) => ({ value: keyOf(usual.id, band.role), label: band.role })),
        ...others.map((other) => ({
          value: keyOf(other.scene_id, other.role),
          label: `${other.role}, ${other.title}`,
        })),
      ]}
      onValue={(key) => {
        const at = key.indexOf(":");
        const sceneId = Number(key.slice(0, at));
        setLayer(sceneId === usual.id ? null : sceneId, key.slice(at + 1));
      }}
    />
  );
}
