import { Text } from "@chakra-ui/react";

import { useDivide } from "../../../api/queries/clusters";
import type { Cluster, ClusterMap } from "../../../api/types";
import { BandChoice } from "../../../shared/BandChoice";
import { nextCode } from "../../../shared/classCode";
import { plural } from "../../../shared/format";
import { Handle } from "../../../shared/Handle";
import { Part } from "../../../shared/Part";
import { useStudyId } from "../../../shared/study";
import { useCurrentScene } from "../../../shared/useCurrent";
import { useView, useViewStore } from "../../../shared/viewStore";
import { useWork } from "../../../shared/workStore";
import { PartsActs } from "../PartsActs";

interface Props {
  readonly map: ClusterMap;
  readonly cluster: Cluster;
}

/** A cluster clustered again by itself, with bands of its own; a new map, the other one stays. */
export function DivideFurther({ map, cluster }: Props) {
  const divide = useDivide(useStudyId());
  const scene = useCurrentScene();
  const { roles, sceneId } = useView("roles", "sceneId");
  const setPane = useViewStore((store) => store.setPane);
  const set = useWork((store) => store.set);
  const firstPart = nextCode(map.clusters.map(({ code }) => code));
  const act = (n: number) =>
    divide.mutate(
      {
        layerId: map.layer_id,
        code: cluster.code,
        scene_id: map.scene_id,
        roles,
        method: "k-means",
        settings: { n_clusters: n },
        seed: 0,
      },
      {
        onSuccess: ({ layer_id }) => {
          set({ clusterMap: layer_id, cluster: firstPart });
          setPane(1, { kind: "named", layerId: layer_id });
        },
      },
    );
  return (
    <Part title="Is it two things?">
      <Text color="quiet">
        Clustered again by itself, the others stay as they are; on{" "}
        {sceneId === map.scene_id ? (
          <Handle text={plural(roles.length, "band")} label="Change the bands that go in">
            {() => <BandChoice scene={scene} roles={roles} />}
          </Handle>
        ) : (
          plural(roles.length, "band")
        )}
        .
      </Text>
      <PartsActs disabled={divide.isPending} onParts={act} />
    </Part>
  );
}
