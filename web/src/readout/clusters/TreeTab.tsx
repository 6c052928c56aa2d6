import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { useNameClusters } from "../../api/queries/clusters";
import { useClasses } from "../../api/queries/training";
import type { ClusterMap } from "../../api/types";
import { plural } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { useClusterInHand } from "../../shared/useClusters";
import { ControlColumn } from "../ControlColumn";
import { TreeDrawing } from "./TreeDrawing";
import { type Branch, treeOf } from "./treeShape";

/** Which clusters belong together most; a whole branch can be given a class at once. */
export function TreeTab() {
  const { map } = useClusterInHand();
  const [leaves, setLeaves] = useState<readonly number[]>([]);
  if (!map) {
    return (
      <Text color="quiet" p="4">
        Cluster the whole scene, and the tree of its clusters stands here.
      </Text>
    );
  }
  const tree = treeOf(map.clusters.length, map.tree);
  return (
    <Flex flex="1" minH="0" gap="2" role="tabpanel" aria-label="Tree">
      <ControlColumn>
        <BranchName
          map={map}
          leaves={leaves.filter((leaf) => leaf < map.clusters.length)}
          onDone={() => setLeaves([])}
        />
      </ControlColumn>
      <Box flex="1" minW="0" pb="1">
        {tree && (
          <TreeDrawing
            map={map}
            tree={tree}
            chosen={leaves}
            onChoose={(branch: Branch) => setLeaves(branch.leaves)}
          />
        )}
      </Box>
    </Flex>
  );
}

interface Props {
  readonly map: ClusterMap;
  readonly leaves: readonly number[];
  readonly onDone: () => void;
}

function BranchName({ map, leaves, onDone }: Props) {
  const studyId = useStudyId();
  const { data: classes = [] } = useClasses(studyId);
  const naming = useNameClusters(studyId);
  const [wanted, setWanted] = useState("");
  if (leaves.length === 0) {
    return (
      <Text color="quiet" lineHeight="1.35">
        The lower two are joined, the more alike they are. Choose a joint, and name all that hangs
        from it.
      </Text>
    );
  }
  const codes = leaves.flatMap((leaf) => map.clusters[leaf]?.code ?? []);
  const classId = Number(wanted) || classes[0]?.id;
  const give = (id: number | null) =>
    naming.mutate({ layerId: map.layer_id, codes, classId: id }, { onSuccess: onDone });
  return (
    <>
      <Text lineHeight="1.35">
        {plural(codes.length, "cluster")}:{" "}
        {leaves.map((leaf) => map.clusters[leaf]?.name.replace("Cluster ", "")).join(", ")}
      </Text>
      <Select
        label="Class of the branch"
        hideLabel
        value={String(classId ?? "")}
        options={classes.map(({ id, name }) => ({ value: String(id), label: name }))}
        onValue={setWanted}
      />
      <Flex gap="3" mt="1">
        <Quiet
          type="button"
          minH="24px"
          disabled={classId === undefined || naming.isPending}
          onClick={() => classId !== undefined && give(classId)}
        >
          Call all so
        </Quiet>
        <Quiet type="button" minH="24px" onClick={() => give(null)}>
          Not yet
        </Quiet>
      </Flex>
    </>
  );
}
