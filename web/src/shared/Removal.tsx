import { Button, Flex, Text } from "@chakra-ui/react";

import { useRemoveLayer } from "../api/queries/layers";
import { useDependants, useRemoveScene, useScenes } from "../api/queries/scenes";
import type { Layer, Scene } from "../api/types";
import { Quiet } from "./Quiet";
import { Remark } from "./Remark";
import { useStudyId } from "./study";

interface Props {
  readonly scene: Scene | null;
  readonly layer: Layer | null;
  readonly onDone: () => void;
}

/** What depends on a layer is said before it goes; it can be undone afterwards. */
export function Removal({ scene, layer, onDone }: Props) {
  const studyId = useStudyId();
  const { data: dependants = [] } = useDependants(scene?.id ?? 0, scene !== null);
  const { data: scenes = [] } = useScenes(studyId);
  const removeScene = useRemoveScene(studyId);
  const removeLayer = useRemoveLayer(studyId);
  const remove = () => {
    if (scene) removeScene.mutate(scene.id, { onSettled: onDone });
    else if (layer) removeLayer.mutate(layer.id, { onSettled: onDone });
  };
  if (scene && scenes.length === 1) {
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
        {scene?.kept
          ? "Its kept copy is deleted, and can be made again; no other file is, and this can be undone."
          : "No file is deleted, and this can be undone."}
      </Text>
      <Flex gap="3" mt="1.5">
        <Button
          size="xs"
          variant="outline"
          borderColor="line"
          loading={removeScene.isPending || removeLayer.isPending}
          onClick={remove}
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
