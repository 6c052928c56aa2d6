import { Box, Flex, Spinner } from "@chakra-ui/react";

import { useView } from "../shared/viewStore";
import { LayerCaption } from "./LayerCaption";
import { LiveCaption } from "./LiveCaption";
import { SceneCaption } from "./SceneCaption";

interface Props {
  readonly index: 0 | 1;
  readonly busy: boolean;
}

/** What a pane shows, as a sentence whose bold parts can be changed. */
export function Caption({ index, busy }: Props) {
  const show = useView().panes[index];
  return (
    <Flex
      as="header"
      bg="card"
      px="2.5"
      py="5px"
      // Two lines in every pane, so that the same place lies at the same height.
      height="50px"
      overflow="hidden"
      align="flex-start"
      gap="2"
      lineHeight="1.55"
      color="quiet"
    >
      <Box flex="1" minW="0" lineClamp={2} data-testid={`caption-${index + 1}`}>
        {show.kind === "scene" && <SceneCaption index={index} show={show} />}
        {show.kind === "live" && <LiveCaption index={index} />}
        {show.kind === "layer" && <LayerCaption index={index} layerId={show.layerId} />}
      </Box>
      {busy && <Spinner size="xs" color="cool" mt="1" aria-label="Loading tiles" />}
    </Flex>
  );
}
