import { Box, Checkbox, Flex, Text } from "@chakra-ui/react";

import type { FoundScene } from "../../../api/types";
import { formatDate } from "../../../shared/format";
import { Footprint } from "./Footprint";

interface Props {
  readonly scene: FoundScene;
  readonly chosen: boolean;
  readonly onToggle: () => void;
}

/** A scene of the catalogue: quick-look, date, cloud, footprint, before anything is fetched. */
export function FoundEntry({ scene, chosen, onToggle }: Props) {
  return (
    <Box
      as="article"
      aria-label={scene.title}
      bg="card"
      borderWidth="1px"
      borderColor={chosen ? "cool" : "line"}
      borderRadius="6px"
      overflow="hidden"
      width="250px"
    >
      <Box height="168px" bg="surround" position="relative">
        {scene.picture && (
          <img
            src={scene.picture}
            alt={`Quick-look of ${scene.title}`}
            width={250}
            height={168}
            loading="lazy"
            style={{ objectFit: "cover", width: "100%", height: "100%" }}
          />
        )}
        <Box position="absolute" right="6px" bottom="6px">
          <Footprint scene={scene} />
        </Box>
      </Box>
      <Box p="2.5">
        <Checkbox.Root checked={chosen} disabled={scene.taken} onCheckedChange={onToggle} size="sm">
          <Checkbox.HiddenInput />
          <Checkbox.Control />
          <Checkbox.Label fontWeight="650" fontSize="1rem">
            {scene.title}
          </Checkbox.Label>
        </Checkbox.Root>
        <Flex justify="space-between" mt="1">
          <Text color="quiet">{formatDate(scene.acquired)}</Text>
          <Text color={cloudTone(scene.cloud_percent)}>
            {scene.cloud_percent === null ? "cloud not told" : `${scene.cloud_percent} % cloud`}
          </Text>
        </Flex>
        <Text color="quiet">
          {scene.taken ? "In the study already" : `${scene.platform} · ${scene.bands.length} bands`}
        </Text>
      </Box>
    </Box>
  );
}

function cloudTone(percent: number | null): string {
  return percent !== null && percent > 20 ? "caution" : "quiet";
}
