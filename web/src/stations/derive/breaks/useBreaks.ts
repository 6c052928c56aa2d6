import { useEffect } from "react";

import { useBreakCounts } from "../../../api/queries/breaks";
import type { BreakCounts, BreakTable, Scene } from "../../../api/types";
import { usePreviewStore } from "../../../shared/previewStore";
import { useDebounced } from "../../../shared/useDebounced";
import { useDeriveScene } from "../useDeriveScene";
import { usePreviewPane } from "../usePreview";
import { tableOf, useBreaksStore } from "./breaksStore";

const PAUSE_MS = 120;

interface Breaks {
  scene: Scene;
  role: string;
  table: BreakTable | null;
  counts: BreakCounts | undefined;
  error: Error | null;
}

/** The table over its layer, and what it comes to. */
export function useBreaks(): Breaks {
  const { scene: usual, scenes } = useDeriveScene();
  const store = useBreaksStore();
  const scene = scenes.find(({ id }) => id === store.sceneId) ?? usual;
  const roles = scene.bands.map((band) => band.role);
  const role = store.role !== null && roles.includes(store.role) ? store.role : (roles[0] ?? "");
  const table = tableOf(store);
  const settled = useDebounced(table && { role, table }, PAUSE_MS);
  const { data, error } = useBreakCounts(scene.id, settled);
  return { scene, role, table, counts: settled ? data : undefined, error: settled ? error : null };
}

/** The class map as the table stands, in the second pane. */
export function useBreaksPreview({ scene, role, table, error }: Breaks): void {
  const pane = usePreviewPane();
  const set = usePreviewStore((store) => store.set);
  const text = useDebounced(table && !error ? JSON.stringify(table) : "", PAUSE_MS);
  useEffect(() => {
    set(
      text === ""
        ? null
        : { pane, scene: null, show: { kind: "breaks", sceneId: scene.id, role, table: text } },
    );
  }, [text, scene.id, role, pane, set]);
  useEffect(() => () => set(null), [set]);
}
