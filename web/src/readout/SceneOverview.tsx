import { Box } from "@chakra-ui/react";

import { Overview } from "../map";
import { useView } from "../shared/viewStore";
import { useWork } from "../shared/workStore";
import { ShowTiles } from "../table";

/** The whole scene as the first pane shows it, with what the panes show on it. */
export function SceneOverview() {
  const linked = useWork((store) => store.linked);
  const { panes } = useView();
  if (!linked) return null;
  const { rows, columns } = linked.grid;
  return (
    <Box
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
        <ShowTiles linked={linked} show={panes[0]} onBusy={() => undefined} />
      </Overview>
    </Box>
  );
}
