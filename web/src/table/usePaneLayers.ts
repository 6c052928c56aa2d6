import { usePreviewStore } from "../shared/previewStore";
import type { PaneIndex, PaneShow } from "../shared/view";
import { usePanes, useView } from "../shared/viewStore";
import { useWork } from "../shared/workStore";

interface PaneLayers {
  top: PaneShow;
  /** What the next pane shows lies beneath: that is what is peeked at. Beneath a preview lies what
   * its pane showed before. */
  beneath: PaneShow;
  beneathIndex: PaneIndex;
  peeking: boolean;
  /** Where the edge between the two stands, as a share of the width. */
  edge: number | null;
}

const NEXT: Record<number, readonly PaneIndex[]> = {
  1: [1, 1, 1, 1],
  2: [1, 0, 0, 0],
  4: [1, 2, 3, 0],
};

/** The layer of a pane and the one beneath it. */
export function usePaneLayers(index: PaneIndex): PaneLayers {
  const { count, panes: kept } = useView("count", "panes");
  const panes = usePanes();
  const previewed = usePreviewStore((store) => store.preview?.pane === index);
  const peeking = useWork((store) => store.peeking && store.activePane === index);
  const edge = useWork((store) => (store.edge?.pane === index ? store.edge.share : null));
  const beneathIndex = previewed ? index : (NEXT[count]?.[index] ?? 1);
  const beneath = previewed ? kept[index] : panes[beneathIndex];
  return { top: panes[index], beneath, beneathIndex, peeking, edge };
}
