import { Button, Flex, Text } from "@chakra-ui/react";

import { useDependants, useRemoveLayer } from "../api/queries/layers";
import { useScenes } from "../api/queries/scenes";
import type { ClassMap, Scene } from "../api/types";
import { Quiet } from "./Quiet";
import { Remark } from "./Remark";
import { useStudyId } from "./study";

interface Props {
  readonly layer: Scene | ClassMap;
  readonly isScene: boolean;
  readonly onDone: () => void;
}

/** What depends on a layer is said before it goes; it can be undone afterwards. */
export function Removal({ layer, isScene, onDone }: Props) {
  const studyId = useStudyId();
  const { data: dependants = [] } = useDependants(layer.id, true);
  const { data: scenes = [] } = useScenes(studyId);
  const remove = useRemoveLayer(studyId);
  if (isScene && scenes.length === 1) {
    return (
      <Remark tone="caution">
        This is the study’s only scene: bring another one in first, then it can be removed.{" "}
        <Quiet type="button" onClick={onDone}>
          Leave it
        </Quiet>
      </Remark>
    );
  }
  const names = dependants.map((d) => `“${d.title}”`).join(", ");
  return (
    <Remark tone="caution">
      <Text>
        {dependants.length > 0
          ? `${names} ${dependants.length === 1 ? "is" : "are"} made of it and stay as they are.`
          : "Nothing else is made of it."}{" "}
        {isScene && layer.kept
          ? "Its kept copy is deleted, and can be made again; no other file is, and this can be undone."
          : "No file is deleted, and this can be undone."}
      </Text>
      <Flex gap="3" mt="1.5">
        <Button
          size="xs"
          variant="outline"
          borderColor="line"
          loading={remove.isPending}
          onClick={() => remove.mutate(layer.id, { onSettled: onDone })}
        >
          Remove it
        </Button>
        <Quiet type="button" onClick={onDone}>
          Leave it
        </Quiet>
      </Flex>
    </Remark>
  );
}
