import { Flex, Text } from "@chakra-ui/react";

import { useKeepNamed } from "../../../api/queries/clusters";
import { useMaps } from "../../../api/queries/maps";
import { useClasses } from "../../../api/queries/training";
import type { Cluster } from "../../../api/types";
import { Card } from "../../../shared/Card";
import { isClusterMap } from "../../../shared/classMaps";
import { formatPercent } from "../../../shared/format";
import { Part } from "../../../shared/Part";
import { Primary } from "../../../shared/Primary";
import { Quiet } from "../../../shared/Quiet";
import { Remark } from "../../../shared/Remark";
import { Select } from "../../../shared/Select";
import { useStudyId } from "../../../shared/study";
import { useClusterInHand } from "../../../shared/useClusters";
import { useViewStore } from "../../../shared/viewStore";
import { useWork } from "../../../shared/workStore";
import { ByChoice } from "../ByChoice";
import { RunList } from "../RunList";
import { ClassKeys } from "./ClassKeys";
import { DivideFurther } from "./DivideFurther";

/** One cluster after the other gets its class, beside the picture. */
export function NameClusters() {
  const studyId = useStudyId();
  const keep = useKeepNamed(studyId);
  const { map, cluster, go, nextUnnamed, call } = useClusterInHand();
  const named = map?.named ?? 0;
  return (
    <Card
      title="Classify"
      purpose="Clusters: the pixels group themselves, you give the names."
      action={
        <Primary
          onClick={() => map && keep.mutate(map.layer_id)}
          loading={keep.isPending}
          disabled={named === 0}
        >
          Keep the map in classes
        </Primary>
      }
    >
      <ByChoice />
      <RunList />
      <WhichMap />
      {map && !cluster && (
        <Remark tone="calm">
          {formatPercent(named, 0)} of the ground has a class.{" "}
          <Quiet type="button" onClick={() => go(1)}>
            Take up the largest cluster
          </Quiet>
        </Remark>
      )}
      {map && cluster && (
        <>
          <Part
            title={cluster.name}
            aside={`${map.exact ? "" : "about "}${formatPercent(cluster.share, 1)} of the ground`}
          >
            <Suggestion cluster={cluster} onCall={call} />
          </Part>
          <ClassKeys map={map} cluster={cluster} onCall={call} />
          <DivideFurther map={map} cluster={cluster} />
          <Part title="Step through" aside="largest first">
            <Flex gap="4">
              <Quiet type="button" minH="24px" onClick={() => go(-1)}>
                Before
              </Quiet>
              <Quiet type="button" minH="24px" onClick={nextUnnamed}>
                Next not named
              </Quiet>
            </Flex>
          </Part>
        </>
      )}
    </Card>
  );
}

/** Which clusters are being named; the right pane shows them in the colours of their classes. */
function WhichMap() {
  const { map } = useClusterInHand();
  const { data: maps = [] } = useMaps(useStudyId());
  const set = useWork((store) => store.set);
  const setPane = useViewStore((store) => store.setPane);
  const found = maps.filter(isClusterMap);
  const choose = (id: number) => {
    set({ clusterMap: id, cluster: null });
    setPane(1, { kind: "named", layerId: id });
  };
  const again = () => {
    set({ clusterMap: "new", cluster: null });
    setPane(1, { kind: "clusters" });
  };
  return (
    <Flex mt="2" gap="3" align="center">
      {found.length > 1 ? (
        <Select
          label="Clusters"
          hideLabel
          width="14rem"
          value={String(map?.layer_id ?? "")}
          options={found.map(({ id, title }) => ({ value: String(id), label: title }))}
          onValue={(id) => choose(Number(id))}
        />
      ) : (
        <Text flex="1" truncate title={map?.title}>
          {map?.title}
        </Text>
      )}
      <Quiet type="button" minH="24px" flex="none" onClick={again}>
        Find others
      </Quiet>
    </Flex>
  );
}

interface SuggestionProps {
  readonly cluster: Cluster;
  readonly onCall: (classId: number) => void;
}

/** What the training sites that lie in it say. */
function Suggestion({ cluster, onCall }: SuggestionProps) {
  const { data: classes = [] } = useClasses(useStudyId());
  const { suggestion } = cluster;
  const row = classes.find(({ id }) => id === suggestion?.class_id);
  if (!suggestion || !row) {
    return <Text color="quiet">No training site lies in it.</Text>;
  }
  const { n_sites: n, n_here: all } = suggestion;
  const isSo = cluster.class_id === row.id;
  return (
    <Remark tone="calm">
      {all === 1
        ? `One training site lies in it, of ${row.name}.`
        : `${all} training sites lie in it: ${n} of ${row.name}${n < all ? `, ${all - n} of other classes` : ""}.`}{" "}
      {!isSo && (
        <Quiet type="button" onClick={() => onCall(row.id)}>
          Call it {row.name}
        </Quiet>
      )}
    </Remark>
  );
}
