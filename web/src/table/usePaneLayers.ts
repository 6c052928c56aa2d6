import type { PaneIndex, PaneShow } from "../shared/view";
import { useView } from "../shared/viewStore";
import { useWork } from "../shared/workStore";

interface PaneLayers {
  top: PaneShow;
  /** What the next pane shows lies beneath: that is what is peeked at. */
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
  const { panes, count } = useView();
  const peeking = useWork((store) => store.peeking && store.activePane === index);
  const edge = useWork((store) => (store.edge?.pane === index ? store.edge.share : null));
  const beneathIndex = NEXT[count]?.[index] ?? 1;
  return { top: panes[index], beneath: panes[beneathIndex], beneathIndex, peeking, edge };
}
