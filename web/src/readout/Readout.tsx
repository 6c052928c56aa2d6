import { Box, Flex } from "@chakra-ui/react";

import { useView } from "../shared/viewStore";
import { HeightHandle } from "./HeightHandle";
import { HistogramTab } from "./histogram/HistogramTab";
import { LineTab } from "./line/LineTab";
import { SceneOverview } from "./SceneOverview";
import { SpaceTab } from "./space/SpaceTab";
import { SpectrumTab } from "./spectrum/SpectrumTab";
import { TabList } from "./TabList";
import { TimeTab } from "./time/TimeTab";
import { useCrosshairReadout } from "./useCrosshairReadout";
import { ViewBar } from "./ViewBar";

const SPACE_HEIGHT = 290;

/** What is under the crosshair, along a line, in a region; it follows the pointer without clicks. */
export function Readout() {
  const { readoutFolded, readoutHeight, tab } = useView();
  // A plane needs to be about as high as it is wide.
  const height = tab === "space" ? Math.max(readoutHeight, SPACE_HEIGHT) : readoutHeight;
  const { place, readout } = useCrosshairReadout();
  return (
    <Box as="section" aria-label="Readout" bg="paper" flex="none">
      {!readoutFolded && <HeightHandle />}
      <ViewBar place={place} readout={readout} />
      {!readoutFolded && (
        <Flex height={`${height}px`} borderTopWidth="1px" borderColor="line">
          <SceneOverview />
          <Flex direction="column" flex="1" minW="0">
            <TabList />
            <TabBody readout={readout ?? null} />
          </Flex>
        </Flex>
      )}
    </Box>
  );
}

type BodyProps = Parameters<typeof SpectrumTab>[0];

function TabBody({ readout }: BodyProps) {
  const { tab } = useView();
  switch (tab) {
    case "spectrum":
      return <SpectrumTab readout={readout} />;
    case "histogram":
      return <HistogramTab />;
    case "line":
      return <LineTab />;
    case "space":
      return <SpaceTab readout={readout} />;
    case "time":
      return <TimeTab />;
  }
}
