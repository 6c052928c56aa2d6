import { Box, Flex, Text } from "@chakra-ui/react";

import type { Scene } from "../../api/types";
import { formatDate } from "../../shared/format";
import { KeepAct } from "../../shared/KeepAct";
import { Part } from "../../shared/Part";

/** Scenes and layers that were made here: those that are kept are files, the others can be. */
export function SceneFiles({ scenes }: { readonly scenes: readonly Scene[] }) {
  const kept = scenes.filter((scene) => scene.kept);
  const inOrder = [...kept, ...scenes.filter((scene) => !scene.kept)];
  return (
    <Part title="Scenes and layers" aside={`${kept.length} of ${scenes.length} kept as files`}>
      <Box as="ul" listStyleType="none">
        {inOrder.map((scene) => (
          <Flex
            as="li"
            key={scene.id}
            py="1.5"
            gap="2"
            justify="space-between"
            align="baseline"
            borderBottomWidth="1px"
            borderColor="line"
          >
            <Box minW="0">
              <Text overflowWrap="anywhere">{scene.title}</Text>
              <Text color="quiet">{formatDate(scene.acquired)}</Text>
            </Box>
            <Box flex="none">
              <KeepAct layer={scene} />
            </Box>
          </Flex>
        ))}
      </Box>
    </Part>
  );
}
