import { useClusterMapId } from "../../../shared/useClusters";
import { FindClusters } from "./FindClusters";
import { NameClusters } from "./NameClusters";

/** Clusters are found first, then named. */
export function ClusterCard() {
  return useClusterMapId() === null ? <FindClusters /> : <NameClusters />;
}
