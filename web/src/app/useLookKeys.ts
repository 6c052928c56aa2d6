import { useEffect } from "react";

import { useSites } from "../api/queries/training";
import {
  extentOfOutline,
  type Outline,
  showExtent,
  showNativePixels,
  showWholeScene,
} from "../map";
import { isTyping } from "../shared/isTyping";
import { isSwitchedOff } from "../shared/keyStore";
import { clearPins, togglePin } from "../shared/pins";
import { crosshairNow } from "../shared/pointerStore";
import { useStudyId } from "../shared/study";
import type { PaneCount } from "../shared/view";
import { useView, useViewStore } from "../shared/viewStore";
import { useWork } from "../shared/workStore";

const NEXT_COUNT: Record<PaneCount, PaneCount> = { 1: 2, 2: 4, 4: 1 };

/** The keys that belong to looking; answers with a function that says whether it took a key. */
export function useLookKeys(): (event: KeyboardEvent) => boolean {
  const studyId = useStudyId();
  const { sceneId } = useView("sceneId");
  const { data: sites = [] } = useSites(studyId, sceneId);
  usePeek();

  const zoomToSite = () => {
    const { siteKey, linked } = useWork.getState();
    const site = sites.find((one) => String(one.id) === siteKey);
    if (!site || !linked) return;
    const [left, bottom, right, top] = extentOfOutline(site.geometry as unknown as Outline);
    showExtent(linked, { left, bottom, right, top });
  };
  const acts: Record<string, () => void> = { ...ACTS, z: zoomToSite };
  return (event) => {
    const key = event.shiftKey ? `Shift+${event.key.toLowerCase()}` : event.key.toLowerCase();
    const act = acts[key];
    act?.();
    return act !== undefined;
  };
}

const ACTS: Record<string, () => void> = {
  t: () => {
    const { view, change } = useViewStore.getState();
    if (view) change({ count: NEXT_COUNT[view.count] });
  },
  e: () => {
    const { edge, activePane, set } = useWork.getState();
    set({ edge: edge?.pane === activePane ? null : { pane: activePane, share: 0.5 } });
  },
  p: () => {
    const crosshair = crosshairNow();
    if (crosshair) togglePin(crosshair);
  },
  "Shift+p": clearPins,
  n: () => {
    const crosshair = crosshairNow();
    if (crosshair) useWork.setState({ notePlace: crosshair });
  },
  l: () => {
    const { layersOpen, set } = useWork.getState();
    set({ layersOpen: !layersOpen });
  },
  d: () => {
    useViewStore.getState().change({ tab: "line", readoutFolded: false });
    useWork.getState().set({ lineTool: true });
  },
  g: () => document.querySelector<HTMLElement>('[data-act="go-to"]')?.click(),
  w: () => {
    const { linked } = useWork.getState();
    if (linked) showWholeScene(linked);
  },
  q: () => {
    const { linked } = useWork.getState();
    if (linked) showNativePixels(linked);
  },
};

/** As long as B is held, a pane shows what lies beneath. */
function usePeek(): void {
  useEffect(() => {
    const { set } = useWork.getState();
    const hold = (event: KeyboardEvent) => {
      const other = event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target);
      if (event.key.toLowerCase() === "b" && !other && !isSwitchedOff(event))
        set({ peeking: true });
    };
    const release = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() === "b") set({ peeking: false });
    };
    const leave = () => set({ peeking: false });
    document.addEventListener("keydown", hold);
    document.addEventListener("keyup", release);
    addEventListener("blur", leave);
    return () => {
      document.removeEventListener("keydown", hold);
      document.removeEventListener("keyup", release);
      removeEventListener("blur", leave);
    };
  }, []);
}
