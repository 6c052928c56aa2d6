import { inOrder } from "../../shared/sceneOrder";
import { Select } from "../../shared/Select";
import { useDeriveStore } from "./deriveStore";
import { useDeriveScene } from "./useDeriveScene";

/** The scene that layers are made from. */
export function SceneSelect() {
  const { scene, scenes } = useDeriveScene();
  const from = useDeriveStore((store) => store.from);
  return (
    <Select
      label="From"
      value={String(scene.id)}
      options={inOrder(scenes).map(({ id, title }) => ({ value: String(id), label: title }))}
      onValue={(id) => from(Number(id))}
    />
  );
}
