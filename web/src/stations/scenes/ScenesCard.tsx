import { Text } from "@chakra-ui/react";

import { useScenes } from "../../api/queries/scenes";
import { Card } from "../../shared/Card";
import { useStudyId } from "../../shared/study";
import { SceneEntry } from "./SceneEntry";

/** What the study has to look at: its scenes, their facts and their bands. */
export function ScenesCard() {
  const { data: scenes = [], isPending } = useScenes(useStudyId());
  return (
    <Card title="Scenes" purpose="What was delivered, band by band. Open one to see its facts.">
      {!isPending && scenes.length === 0 && (
        <Text mt="3">This study has no scene. Start with the demo study to look around.</Text>
      )}
      {scenes.map((scene) => (
        <SceneEntry key={scene.id} scene={scene} />
      ))}
    </Card>
  );
}
