import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { body, client } from "../client";
import { Problem } from "../problem";
import type { components } from "../schema.generated";
import { useEdit } from "./edits";
import { keys } from "./keys";

export function useClusterings() {
  return useQuery({
    queryKey: keys.clusterings,
    queryFn: () => body(client.GET("/api/clusterings")),
    staleTime: Infinity,
  });
}

type Found = components["schemas"]["LiveClustersOut"];

const NONE: Found = {
  version: null,
  problem: null,
  clusters: [],
  rounds: [],
  n_sampled: 0,
  n_usable: 0,
  exact: true,
};

interface LiveOrder {
  sceneId: number;
  roles: readonly string[];
  /** As JSON. */
  method: string;
}

/** Clusters as they are found on few pixels; the ones before stay until the next are there, and
 * where there can be none, beside the sentence that says why. */
export function useFoundClusters(studyId: number, order: LiveOrder, enabled: boolean) {
  const { sceneId, roles, method } = order;
  const queries = useQueryClient();
  const former = keys.formerClusters(studyId, sceneId);
  return useQuery({
    queryKey: keys.liveClusters(studyId, order),
    enabled,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    queryFn: async () => {
      const answer = client.GET("/api/studies/{study_id}/clusters", {
        params: {
          path: { study_id: studyId },
          query: { scene_id: sceneId, roles: roles.join(","), method },
        },
      });
      const found = await body(answer).catch(withoutClusters);
      if (found.problem === null) queries.setQueryData(former, found);
      else return { ...(queries.getQueryData<Found>(former) ?? found), problem: found.problem };
      return found;
    },
  });
}

/** Settings that exclude one another are no failure, but a sentence. */
function withoutClusters(error: unknown): Found {
  if (!(error instanceof Problem && error.code === "bad-settings")) throw error;
  return { ...NONE, problem: error.message };
}

/** A kept map of clusters: each with its size, spectrum, places and class. */
export function useClusterMap(studyId: number, layerId: number | null) {
  return useQuery({
    queryKey: keys.clusterMap(studyId, layerId ?? 0),
    enabled: layerId !== null,
    queryFn: () =>
      body(
        client.GET("/api/cluster-maps/{layer_id}", {
          params: { path: { layer_id: layerId ?? 0 } },
        }),
      ),
  });
}

type ClusterOrder = components["schemas"]["ClusterCreate"];
type CountsOrder = components["schemas"]["CountsCreate"];
type DivideOrder = components["schemas"]["DivideCreate"];

function useRun<V>(studyId: number, act: (order: V) => Promise<unknown>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: act,
    onSettled: () => queries.invalidateQueries({ queryKey: keys.runs(studyId) }),
  });
}

export function useClusterScene(studyId: number) {
  return useRun(studyId, (order: ClusterOrder) =>
    body(
      client.POST("/api/studies/{study_id}/cluster-runs", {
        params: { path: { study_id: studyId } },
        body: order,
      }),
    ),
  );
}

export function useTryCounts(studyId: number) {
  return useRun(studyId, (order: CountsOrder) =>
    body(
      client.POST("/api/studies/{study_id}/cluster-counts", {
        params: { path: { study_id: studyId } },
        body: order,
      }),
    ),
  );
}

/** The map in classes, as the clusters are named now. */
export function useKeepNamed(studyId: number) {
  return useRun(studyId, (layerId: number) =>
    body(
      client.POST("/api/cluster-maps/{layer_id}/map", { params: { path: { layer_id: layerId } } }),
    ),
  );
}

interface Naming {
  layerId: number;
  codes: readonly number[];
  /** Null: not yet. */
  classId: number | null;
}

export function useNameClusters(studyId: number) {
  return useEdit(studyId, ({ layerId, codes, classId }: Naming) =>
    body(
      client.PUT("/api/cluster-maps/{layer_id}/names", {
        params: { path: { layer_id: layerId } },
        body: { names: codes.map((code) => ({ code, class_id: classId })) },
      }),
    ),
  );
}

/** One class of any map parted into clusters, in a new map. */
export function useDivideClass(studyId: number) {
  return useEdit(studyId, ({ layerId, ...order }: DivideOrder & { layerId: number }) =>
    body(
      client.POST("/api/maps/{layer_id}/divisions", {
        params: { path: { layer_id: layerId } },
        body: order,
      }),
    ),
  );
}

export function useDivide(studyId: number) {
  return useEdit(studyId, ({ layerId, ...order }: DivideOrder & { layerId: number }) =>
    body(
      client.POST("/api/cluster-maps/{layer_id}/divisions", {
        params: { path: { layer_id: layerId } },
        body: order,
      }),
    ),
  );
}
