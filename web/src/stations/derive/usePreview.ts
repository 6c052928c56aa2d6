import { useEffect } from "react";

import { useDraft } from "../../api/queries/derive";
import type { Scene } from "../../api/types";
import { type Preview, usePreviewStore } from "../../shared/previewStore";
import { useStudyId } from "../../shared/study";
import { useDebounced } from "../../shared/useDebounced";
import { type PaneIndex, showScene } from "../../shared/view";
import { useView, useViewStore } from "../../shared/viewStore";
import { firstLook } from "./firstLook";
import { useOrders } from "./useOrders";

const PAUSE_MS = 60;

interface Found {
  draft: Scene | null;
  error: Error | null;
  busy: boolean;
}

/** The layer as it is set now, or why there is none. */
export function useDraftNow(): Found {
  const order = useDebounced(useOrders().preview, PAUSE_MS);
  const { data, error, isFetching } = useDraft(useStudyId(), order);
  const draft = order && data && !error ? data : null;
  return { draft, error: order ? error : null, busy: isFetching };
}

/** The layer as it is set now, in the second pane (the only one, where there is one). */
export function usePreview(): Found {
  const found = useDraftNow();
  const { draft, error, busy } = found;
  const pane = usePreviewPane();
  const set = usePreviewStore((store) => store.set);
  useEffect(() => {
    if (!draft) return;
    const { preview } = usePreviewStore.getState();
    set(previewOf(draft, preview, pane));
  }, [draft, pane, set]);
  const nothing = draft === null && error === null && !busy;
  useEffect(() => {
    if (nothing) set(null);
  }, [nothing, set]);
  useEffect(() => () => set(null), [set]);
  return found;
}

export function usePreviewPane(): PaneIndex {
  return useView("count").count === 1 ? 0 : 1;
}

/** Colours and stretch stay while the bands have the same names. */
function previewOf(scene: Scene, before: Preview | null, pane: PaneIndex): Preview {
  if (before?.scene?.id === scene.id && before.pane === pane) return before;
  const namesOf = (one: Scene) => one.bands.map(({ role }) => role).join();
  const same = before?.scene && namesOf(before.scene) === namesOf(scene);
  const panes = useViewStore.getState().view?.panes ?? [];
  return { pane, scene, show: showScene(scene, same ? before.show : firstLook(scene, panes)) };
}
