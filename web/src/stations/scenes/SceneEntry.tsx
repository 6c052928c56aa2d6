import { Checkbox, Flex, Text } from "@chakra-ui/react";

import { useScenes } from "../../api/queries/scenes";
import type { Scene } from "../../api/types";
import { formatDate, formatPercent, formatShortDate } from "../../shared/format";
import { useStudyId } from "../../shared/study";
import { Panel } from "../../shared/Panel";
import { Quiet } from "../../shared/Quiet";
import { type PaneIndex, showScene } from "../../shared/view";
import { useView, useViewStore } from "../../shared/viewStore";
import { SceneActs } from "./SceneActs";
import { SceneFacts } from "./SceneFacts";

interface Props {
  readonly scene: Scene;
  readonly marked: boolean;
  readonly onMark: () => void;
}

export function SceneEntry({ scene, marked, onMark }: Props) {
  const view = useView("panes", "sceneId");
  const change = useViewStore((store) => store.change);
  const setPane = useViewStore((store) => store.setPane);
  const { data: scenes = [] } = useScenes(useStudyId());
  const isWork = view.sceneId === scene.id;
  const show = (index: PaneIndex) => setPane(index, showScene(scene, view.panes[index]));
  const workOn = () =>
    change({
      sceneId: scene.id,
      roles: scene.default_roles,
      panes: [showScene(scene, view.panes[0]), { kind: "live" }, view.panes[2], view.panes[3]],
    });
  return (
    <Panel as="article" aria-label={scene.title} borderColor={isWork ? "cool" : "line"}>
      <Flex justify="space-between" align="baseline" gap="2">
        <Checkbox.Root
          size="sm"
          minW="0"
          checked={marked}
          onCheckedChange={onMark}
          alignItems="baseline"
        >
          <Checkbox.HiddenInput />
          <Checkbox.Control />
          <Checkbox.Label fontWeight="650" fontSize="1rem" overflowWrap="anywhere">
            {scene.title}
          </Checkbox.Label>
        </Checkbox.Root>
        <Text color="quiet" flex="none">
          {datesOf(scene, scenes)}
        </Text>
      </Flex>
      <Text color="quiet">
        {scene.steps.length > 0
          ? scene.steps.map((step) => step.title).join(" · ")
          : `${scene.sensor} as ${scene.quantity === "numbers" ? "raw numbers" : scene.quantity}`}
        {" · "}
        {formatPercent(scene.usable_share, 0)} usable
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
      <SceneFacts scene={scene}>
        <SceneActs scene={scene} />
      </SceneFacts>
    </Panel>
  );
}

/** A scene's date; of one made of several dates the first and the last of them. */
function datesOf(scene: Scene, all: readonly Scene[]): string {
  const dates = all
    .filter(({ id, acquired }) => scene.made_of.includes(id) && acquired !== null)
    .map(({ acquired }) => acquired)
    .sort();
  const [first, last] = [dates[0], dates.at(-1)];
  if (scene.acquired !== null || !first || !last) return formatDate(scene.acquired);
  return first === last
    ? formatDate(first)
    : `${formatShortDate(first)} to ${formatShortDate(last)}`;
}
