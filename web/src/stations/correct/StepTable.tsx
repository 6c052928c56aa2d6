import { Box, Checkbox, Flex, Table, Text } from "@chakra-ui/react";

import type { Scene } from "../../api/types";
import { formatShortDate } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { showScene } from "../../shared/view";
import { useView, useViewStore } from "../../shared/viewStore";
import { useChain } from "./chainStore";
import { FAMILIES, familiesOf } from "./families";
import { useChosenScenes } from "./useChosenScenes";

/** Which date has had which step; the rows to be corrected are marked here, too. */
export function StepTable() {
  const { scenes } = useChosenScenes();
  const { layerIds, toggle } = useChain();
  const setPane = useViewStore((store) => store.setPane);
  const { panes } = useView("panes");
  return (
    <Table.Root size="sm" aria-label="Steps that each scene has had" tableLayout="fixed">
      <Table.Header>
        <Table.Row bg="transparent">
          <Head width="auto">Scene</Head>
          {FAMILIES.map(({ id, short, title }) => (
            <Head key={id} width="32px" title={title}>
              {short}
            </Head>
          ))}
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {scenes.map((scene) => (
          <Table.Row key={scene.id} bg="transparent">
            <Table.Cell px="0" py="1" borderColor="line">
              <Checkbox.Root
                size="sm"
                alignItems="flex-start"
                checked={layerIds.includes(scene.id)}
                onCheckedChange={() => toggle(scene.id)}
              >
                <Checkbox.HiddenInput />
                <Checkbox.Control mt="0.5" />
                <Checkbox.Label fontSize="1rem" fontWeight="500" overflowWrap="anywhere">
                  {scene.title}
                </Checkbox.Label>
              </Checkbox.Root>
              <Flex gap="1.5" pl="4" whiteSpace="nowrap">
                <Text color="quiet" flex="1">
                  {formatShortDate(scene.acquired)}
                </Text>
                <Quiet
                  type="button"
                  aria-label={`Show ${scene.title} on the left`}
                  onClick={() => setPane(0, showScene(scene, panes[0]))}
                >
                  left
                </Quiet>
                <Quiet
                  type="button"
                  aria-label={`Show ${scene.title} on the right`}
                  onClick={() => setPane(1, showScene(scene, panes[0]))}
                >
                  right
                </Quiet>
              </Flex>
            </Table.Cell>
            <Marks scene={scene} all={scenes} />
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  );
}

interface MarksProps {
  readonly scene: Scene;
  readonly all: readonly Scene[];
}

function Marks({ scene, all }: MarksProps) {
  const had = familiesOf(scene, all);
  return FAMILIES.map(({ id, title }) => (
    <Table.Cell key={id} px="0" py="1" borderColor="line" textAlign="center" verticalAlign="top">
      {had.has(id) ? (
        <Box as="span" color="good" fontWeight="700" title={`${title}: done`}>
          ✓<Box as="span" srOnly>{`${title}: done`}</Box>
        </Box>
      ) : (
        <Box as="span" color="quiet" aria-label={`${title}: not done`}>
          ·
        </Box>
      )}
    </Table.Cell>
  ));
}

interface HeadProps {
  readonly width: string;
  readonly title?: string;
  readonly children: string;
}

function Head({ width, title, children }: HeadProps) {
  return (
    <Table.ColumnHeader
      px="0"
      py="1"
      width={width}
      color="quiet"
      textAlign={width === "auto" ? "start" : "center"}
      title={title}
      fontSize="0.92rem"
    >
      {children}
    </Table.ColumnHeader>
  );
}
