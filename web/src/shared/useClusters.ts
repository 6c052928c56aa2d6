import { useClusterMap, useFoundClusters, useNameClusters } from "../api/queries/clusters";
import { useMaps } from "../api/queries/maps";
import type { Cluster, ClusterMap } from "../api/types";
import { isClusterMap } from "./classMaps";
import { useStation } from "./stations";
import { useStudyId } from "./study";
import { useDebounced } from "./useDebounced";
import { useView, useViewStore } from "./viewStore";
import { useWork } from "./workStore";

const PAUSE_MS = 150;

/** Whether clusters are looked for or named just now. */
export function useClustering(): boolean {
  const station = useStation();
  const by = useViewStore((store) => store.view?.classifyBy);
  return station === "classify" && by === "clusters";
}

/** The clusters of the work scene as they stand with the settings in hand. */
export function useLiveClusters(wanted: boolean) {
  const { sceneId, roles, clustering } = useView("sceneId", "roles", "clustering");
  const method = useDebounced(JSON.stringify(clustering), PAUSE_MS);
  return useFoundClusters(useStudyId(), { sceneId, roles, method }, wanted);
}

/** What a run would be told: scene, bands and the clustering in hand. */
export function useClusterOrder() {
  const { sceneId, roles, clustering } = useView("sceneId", "roles", "clustering");
  const { id, settings, seed } = clustering;
  return { scene_id: sceneId, roles, method: id, settings, seed };
}

/** The kept map of clusters that is being named: the one chosen, else the newest. */
export function useClusterMapId(): number | null {
  const { data: maps = [] } = useMaps(useStudyId());
  const wanted = useWork((store) => store.clusterMap);
  if (wanted === "new") return null;
  const found = maps.filter(isClusterMap);
  return (found.find(({ id }) => id === wanted) ?? found[0])?.id ?? null;
}

/** The largest first. */
export function inSizeOrder(map: ClusterMap): Cluster[] {
  return map.clusters.toSorted((a, b) => b.share - a.share);
}

/** The cluster in hand: which it is, what it is called, and the way to the next. */
export function useClusterInHand() {
  const studyId = useStudyId();
  const clustering = useClustering();
  const layerId = useClusterMapId();
  const { data: map } = useClusterMap(studyId, clustering ? layerId : null);
  const code = useWork((store) => store.cluster);
  const set = useWork((store) => store.set);
  const naming = useNameClusters(studyId);
  const all = map ? inSizeOrder(map) : [];
  const cluster = all.find((one) => one.code === code) ?? null;
  const at = all.findIndex((one) => one.code === cluster?.code);
  const pick = (next: Cluster | undefined) => set({ cluster: next?.code ?? null });
  return {
    map: map ?? null,
    all,
    cluster,
    pick,
    /** To the next, or the one before; the largest where none is in hand. */
    go: (by: 1 | -1) => pick(at < 0 ? all[0] : all[(at + by + all.length) % all.length]),
    nextUnnamed: () => {
      const after = [...all.slice(at + 1), ...all.slice(0, Math.max(at, 0))];
      pick(after.find((one) => one.class_id === null) ?? cluster ?? undefined);
    },
    /** Give it a class, or take it back with null. */
    call: (classId: number | null) => {
      if (map && cluster) {
        naming.mutate({ layerId: map.layer_id, codes: [cluster.code], classId });
      }
    },
  };
}
