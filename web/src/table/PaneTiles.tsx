import { useEffect, useState } from "react";

import type { LinkedView, TileState } from "../map";
import { useBusy } from "../shared/busyStore";
import type { PaneIndex } from "../shared/view";
import { ShowTiles } from "./ShowTiles";
import { usePaneLayers } from "./usePaneLayers";

interface Props {
  readonly linked: LinkedView;
  readonly index: PaneIndex;
  readonly onState: (state: TileState) => void;
}

const LEAVE_MS = 250;

/** The picture of a pane, and the one beneath it as long as it is peeked at or cut open. */
export function PaneTiles({ linked, index, onState }: Props) {
  const { top, beneath, peeking, edge } = usePaneLayers(index);
  const open = useLinger(peeking || edge !== null);
  // The layer above tells whether the pane is busy; this is for those who wait for all of it.
  const [busy, setBusy] = useState(false);
  useBusy(busy);
  const cut = peeking ? 0 : (edge ?? 1);
  return (
    <>
      <ShowTiles linked={linked} show={top} clip={[0, cut]} onState={onState} />
      {open && (
        <ShowTiles
          linked={linked}
          show={beneath}
          clip={[cut, 1]}
          zIndex={1}
          onState={({ busy: on }) => setBusy(on)}
        />
      )}
    </>
  );
}

/** True a little longer, so that a second peek finds the tiles still there. */
function useLinger(on: boolean): boolean {
  const [lingers, setLingers] = useState(false);
  useEffect(() => {
    if (!on) return;
    const start = setTimeout(() => setLingers(true), 0);
    return () => {
      clearTimeout(start);
      setTimeout(() => setLingers(false), LEAVE_MS);
    };
  }, [on]);
  return on || lingers;
}
