import { Box } from "@chakra-ui/react";

import { Overview } from "../map";
import { useShownPanes } from "../shared/viewStore";
import { useWork } from "../shared/workStore";
import { ShowTiles } from "../table";

/** A picture is finer than the scene, and seldom reaches as far. */
const LIVE = { kind: "live" } as const;

/** The whole scene as the first pane shows it, with what the panes show on it. */
export function SceneOverview() {
  const linked = useWork((store) => store.linked);
  const shown = useShownPanes();
  if (!linked) return null;
  const { rows, columns } = linked.grid;
  return (
    <Box
      // In a narrow window the chart needs the room more.
      hideBelow="xl"
      position="relative"
      flex="none"
      ms="3"
      my="1.5"
      width="164px"
      maxH="calc(100% - 0.75rem)"
      aspectRatio={String(columns / rows)}
      bg="surround"
      borderRadius="3px"
      overflow="hidden"
      alignSelf="flex-start"
    >
      <Overview
        key={linked.grid.crs}
        linked={linked}
        label="Overview of the whole scene with the part that the panes show"
      >
        <ShowTiles
          linked={linked}
          show={shown.find((pane) => pane.kind !== "picture") ?? LIVE}
          onState={() => undefined}
        />
      </Overview>
    </Box>
  );
}
