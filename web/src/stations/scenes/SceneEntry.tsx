import { Flex, Text } from "@chakra-ui/react";

import type { Scene } from "../../api/types";
import { formatDate, formatPercent } from "../../shared/format";
import { Panel } from "../../shared/Panel";
import { Quiet } from "../../shared/Quiet";
import { showScene } from "../../shared/view";
import { useView, useViewStore } from "../../shared/viewStore";
import { SceneFacts } from "./SceneFacts";

export function SceneEntry({ scene }: { readonly scene: Scene }) {
  const view = useView();
  const { change, setPane } = useViewStore();
  const isWork = view.sceneId === scene.id;
  const show = (index: 0 | 1) => setPane(index, showScene(scene, view.panes[index]));
  const workOn = () =>
    change({
      sceneId: scene.id,
      roles: scene.default_roles,
      panes: [showScene(scene, view.panes[0]), { kind: "live" }],
    });
  return (
    <Panel as="article" aria-label={scene.title} borderColor={isWork ? "cool" : "line"}>
      <Flex justify="space-between" align="baseline">
        <Text fontWeight="650">{scene.title}</Text>
        <Text color="quiet">{formatDate(scene.acquired)}</Text>
      </Flex>
      <Text color="quiet">
        {scene.sensor} · {formatPercent(scene.usable_share, 0)} of the pixels usable
      </Text>
      <Flex gap="3" mt="1" wrap="wrap">
        <Quiet type="button" onClick={() => show(0)}>
          Show left
        </Quiet>
        <Quiet type="button" onClick={() => show(1)}>
          Show right
        </Quiet>
        {isWork ? (
          <Text color="quiet">Trained on and classified</Text>
        ) : (
          <Quiet type="button" onClick={workOn}>
            Train on this one
          </Quiet>
        )}
      </Flex>
      <SceneFacts scene={scene} />
    </Panel>
  );
}
