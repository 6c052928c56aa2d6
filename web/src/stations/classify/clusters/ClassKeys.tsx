import { chakra, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import { useCreateClass } from "../../../api/queries/edits";
import { useClasses } from "../../../api/queries/training";
import type { Cluster, ClusterMap } from "../../../api/types";
import { Part } from "../../../shared/Part";
import { Quiet } from "../../../shared/Quiet";
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
const Key = chakra("kbd", {
  base: {
    width: "1.35rem",
    flex: "none",
    textAlign: "center",
    borderWidth: "1px",
    borderColor: "line",
    borderRadius: "4px",
    bg: "card",
    fontFamily: "inherit",
    fontSize: "0.85em",
    color: "quiet",
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
          <Key aria-hidden={i >= KEYED}>{i < KEYED ? i + 1 : ""}</Key>
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
        <Key>0</Key>
        <Text color="caution">not yet</Text>
      </Pick>
      <AnotherClass onMade={onCall} />
    </Part>
  );
}

/** A class that the scheme lacks, given to the cluster in hand at once. */
function AnotherClass({ onMade }: { readonly onMade: (classId: number) => void }) {
  const create = useCreateClass(useStudyId(), (made) => onMade(made.id));
  const [name, setName] = useState("");
  const add = (event: React.SubmitEvent) => {
    event.preventDefault();
    if (name.trim() === "") return;
    create.mutate(name, { onSuccess: () => setName("") });
  };
  return (
    <form onSubmit={add}>
      <Flex mt="1" gap="2" align="center">
        <Input
          size="xs"
          flex="1"
          bg="card"
          placeholder="Another class"
          aria-label="Name of a new class"
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.currentTarget.value)}
        />
        <Quiet type="submit" disabled={name.trim() === "" || create.isPending}>
          Call it so
        </Quiet>
      </Flex>
    </form>
  );
}
