import type { Scene } from "../../api/types";
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

/** Scenes, then derived layers, then series, of which there may be many. */
export function inOrder(scenes: readonly Scene[]): Scene[] {
  const place = ({ series, origin }: Scene) => (series !== null ? 2 : origin === "derived" ? 1 : 0);
  return [...scenes].sort((a, b) => place(a) - place(b));
}
