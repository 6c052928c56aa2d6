import { useClusterMap } from "../api/queries/clusters";
import { formatPercent } from "../shared/format";
import { useStudyId } from "../shared/study";
import type { PaneIndex } from "../shared/view";
import { ShowChoice } from "./ShowChoice";

interface Props {
  readonly index: PaneIndex;
  readonly layerId: number;
}

/** Clusters in the colours of their classes, with what has no name yet in greys. */
export function NamedCaption({ index, layerId }: Props) {
  const { data: map } = useClusterMap(useStudyId(), layerId);
  const n = map?.clusters.length ?? 0;
  const named = map?.clusters.filter((one) => one.class_id !== null).length ?? 0;
  return (
    <>
      <ShowChoice index={index} show={{ kind: "named", layerId }} />
      {map &&
        `, ${map.method}; ${named} of ${n} named, ${formatPercent(map.named, 0)} of the ground; greys have no name yet`}
    </>
  );
}
