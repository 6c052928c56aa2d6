import { useState } from "react";

import { useMaps } from "../api/queries/maps";
import { type LinkedView, TileLayer } from "../map";
import { useBusy } from "../shared/busyStore";
import { useStudyId } from "../shared/study";
import { useClusterInHand } from "../shared/useClusters";
import type { PaneIndex } from "../shared/view";
import { usePaneLayers } from "./usePaneLayers";

interface Props {
  readonly index: PaneIndex;
  readonly linked: LinkedView;
}

/** All but the cluster in hand is dimmed, in the panes that show imagery. */
export function PaneVeil({ index, linked }: Props) {
  const { top, peeking } = usePaneLayers(index);
  const { map, cluster } = useClusterInHand();
  const { data: maps } = useMaps(useStudyId());
  const grid = maps?.find(({ id }) => id === map?.layer_id)?.grid;
  const [busy, setBusy] = useState(false);
  useBusy(busy);
  const isImagery = top.kind === "scene" || top.kind === "picture";
  if (!map || !cluster || !grid || !isImagery || peeking) return null;
  return (
    <TileLayer
      key={map.layer_id}
      linked={linked}
      grid={grid}
      url={`/api/cluster-maps/${map.layer_id}/tiles/{z}/{y}/{x}.png?lit=${cluster.code}`}
      kind="codes"
      zIndex={2}
      onState={(state) => setBusy(state.busy)}
    />
  );
}
