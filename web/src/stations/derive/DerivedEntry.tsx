import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Scene } from "../../api/types";
import { KeepAct } from "../../shared/KeepAct";
import { Quiet } from "../../shared/Quiet";
import { Removal } from "../../shared/Removal";
import { type PaneIndex, showScene } from "../../shared/view";
import { useSetPane, useView, useViewStore } from "../../shared/viewStore";

/** One derived layer: how it came to be, where it is shown, what can be done with it. */
export function DerivedEntry({ scene }: { readonly scene: Scene }) {
  const view = useView("panes", "sceneId");
  const setPane = useSetPane();
  const change = useViewStore((store) => store.change);
  const [asking, setAsking] = useState(false);
  const show = (index: PaneIndex) => setPane(index, showScene(scene, view.panes[index]));
  const isWork = view.sceneId === scene.id;
  const workOn = () => change({ sceneId: scene.id, roles: scene.default_roles });
  return (
    <Box as="article" aria-label={scene.title} py="1.5" borderBottomWidth="1px" borderColor="line">
      <Text fontWeight="650">{scene.title}</Text>
      <Text color="quiet" overflowWrap="anywhere">
        {scene.sentence}
      </Text>
      <Flex columnGap="3" wrap="wrap">
        <Quiet type="button" onClick={() => show(0)}>
          Show left
        </Quiet>
        <Quiet type="button" onClick={() => show(1)}>
          Show right
        </Quiet>
        {isWork ? (
          <Text color="quiet">trained and classified</Text>
        ) : (
          <Quiet type="button" onClick={workOn}>
            Train and classify with it
          </Quiet>
        )}
        <KeepAct layer={scene} />
        <Quiet type="button" onClick={() => setAsking(true)}>
          Remove
        </Quiet>
      </Flex>
      {asking && <Removal layer={scene} isScene onDone={() => setAsking(false)} />}
    </Box>
  );
}
