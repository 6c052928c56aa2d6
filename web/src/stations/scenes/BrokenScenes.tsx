import { Text } from "@chakra-ui/react";

import { useRemoveLayer } from "../../api/queries/layers";
import { useBrokenScenes } from "../../api/queries/scenes";
import { Quiet } from "../../shared/Quiet";
import { Remark } from "../../shared/Remark";
import { useStudyId } from "../../shared/study";

/** Scenes that cannot be opened any more: why, and the way out. */
export function BrokenScenes() {
  const studyId = useStudyId();
  const { data: broken = [] } = useBrokenScenes(studyId);
  const remove = useRemoveLayer(studyId);
  return broken.map((scene) => (
    <Remark key={scene.id} tone="problem">
      <Text fontWeight="650" overflowWrap="anywhere">
        {scene.title} cannot be opened
      </Text>
      <Text>{scene.problem} Put its files back where they were, or remove the scene.</Text>
      <Quiet
        type="button"
        mt="1"
        disabled={remove.isPending}
        onClick={() => remove.mutate(scene.id)}
      >
        Remove {scene.title}
      </Quiet>
    </Remark>
  ));
}
