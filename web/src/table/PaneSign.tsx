import { useEffect } from "react";

import { onReach } from "../api/reach";
import { PaneHint, type TileState } from "../map";
import { Quiet } from "../shared/Quiet";
import { useLiveClusters } from "../shared/useClusters";
import { ownMethod, useCurrentTraining } from "../shared/useCurrent";
import type { PaneIndex } from "../shared/view";
import { usePaneLayers } from "./usePaneLayers";

interface Props {
  readonly index: PaneIndex;
  readonly tiles: TileState;
}

/** Where the picture is not what the caption says, or is none, the pane tells why. */
export function PaneSign({ index, tiles }: Props) {
  const { again } = tiles;
  const words = useWords(index, tiles);
  useEffect(() => {
    if (!again) return;
    let away = false;
    return onReach((online) => {
      if (away && online) again();
      away = !online;
    });
  }, [again]);
  if (words === null) return null;
  return (
    <PaneHint at="bottom" pressable={again !== null}>
      {words}
      {again && (
        <Quiet type="button" onClick={again}>
          Again
        </Quiet>
      )}
    </PaneHint>
  );
}

function useWords(index: PaneIndex, { again, stale, outside }: TileState): string | null {
  const { top } = usePaneLayers(index);
  const { data: training } = useCurrentTraining(ownMethod(top));
  const { data: clusters } = useLiveClusters(top.kind === "clusters");
  if (top.kind === "live" && training?.live.version === null) {
    return training.live.pending ? "Being trained …" : "No class map yet.";
  }
  if (top.kind === "clusters" && clusters && clusters.problem !== null) {
    return clusters.version === null ? "No clusters yet." : "Still the clusters from before.";
  }
  if (again) return "Part of the picture could not be loaded.";
  if (stale) return "Being drawn anew …";
  return outside ? "This layer does not reach here." : null;
}
