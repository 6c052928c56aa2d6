import { chakra, Text } from "@chakra-ui/react";

import { useClasses } from "../../../api/queries/training";
import type { Cluster, ClusterMap } from "../../../api/types";
import { KeyCap } from "../../../shared/KeyCap";
import { NewClass } from "../../../shared/NewClass";
import { Part } from "../../../shared/Part";
import { useStudyId } from "../../../shared/study";
import { Swatch } from "../../../shared/Swatch";

const Pick = chakra("button", {
  base: {
    display: "flex",
    alignItems: "center",
    gap: "2",
    width: "100%",
    px: "1",
    minH: "25px",
    textAlign: "start",
    cursor: "pointer",
    borderRadius: "3px",
    _hover: { bg: "coolTint" },
    _pressed: { bg: "coolTint", fontWeight: 650 },
  },
});
const KEYED = 9;

interface Props {
  readonly map: ClusterMap;
  readonly cluster: Cluster;
  readonly onCall: (classId: number | null) => void;
}

/** The classes with their keys, and which clusters each has; one press gives the cluster in hand
 * its class. */
export function ClassKeys({ map, cluster, onCall }: Props) {
  const { data: classes = [] } = useClasses(useStudyId());
  const numbersOf = (id: number) =>
    map.clusters
      .filter((one) => one.class_id === id)
      .map((one) => one.name.replace("Cluster ", ""))
      .join(", ");
  return (
    <Part title="Its class" aside="press the number">
      {classes.map(({ id, name, colour }, i) => (
        <Pick
          key={id}
          type="button"
          aria-pressed={cluster.class_id === id}
          onClick={() => onCall(id)}
        >
          <KeyCap aria-hidden={i >= KEYED}>{i < KEYED ? i + 1 : ""}</KeyCap>
          <Swatch colour={colour} />
          <Text flex="1" truncate>
            {name}
          </Text>
          <Text color="quiet" truncate maxW="7rem">
            {numbersOf(id) && `cluster ${numbersOf(id)}`}
          </Text>
        </Pick>
      ))}
      <Pick type="button" aria-pressed={cluster.class_id === null} onClick={() => onCall(null)}>
        <KeyCap>0</KeyCap>
        <Text color="caution">not yet</Text>
      </Pick>
      <NewClass act="Call it so" onMade={({ id }) => onCall(id)} />
    </Part>
  );
}
