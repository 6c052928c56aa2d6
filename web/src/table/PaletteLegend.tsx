import { Box, Flex } from "@chakra-ui/react";

import { useChannels, usePalettes } from "../api/queries/look";
import { formatValue } from "../shared/format";
import type { PaletteShow, SceneShow } from "../shared/view";
import { PaletteStrip } from "./PaletteStrip";
import { stretchOrder } from "./stretchOrder";

interface Props {
  readonly show: SceneShow;
  readonly palette: PaletteShow;
}

/** Which colour stands for which value. */
export function PaletteLegend({ show, palette }: Props) {
  const { data: palettes } = usePalettes();
  const { data: channels } = useChannels(show.sceneId, stretchOrder(show));
  const colours = palettes?.find((one) => one.id === palette.id)?.colours;
  const channel = channels?.[0];
  if (!colours || !channel) return null;
  const [low, high] = [formatValue(channel.low), formatValue(channel.high)];
  return (
    <Box
      role="img"
      aria-label={`Colours from ${low} to ${high} of ${channel.role}`}
      width="7.5rem"
      flex="none"
      pt="1"
      fontSize="0.92em"
      lineHeight="1.3"
    >
      <PaletteStrip colours={colours} palette={palette} height={11} />
      <Flex justify="space-between">
        <span>{low}</span>
        <span>{high}</span>
      </Flex>
    </Box>
  );
}
