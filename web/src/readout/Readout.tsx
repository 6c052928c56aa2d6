import { Box, Flex } from "@chakra-ui/react";

import { useView } from "../shared/viewStore";
import type { Tab } from "../shared/view";
import { ClassesTab } from "./classes/ClassesTab";
import { FirstCheckTab } from "./check/FirstCheckTab";
import { ClustersTab } from "./clusters/ClustersTab";
import { CountsTab } from "./clusters/CountsTab";
import { TreeTab } from "./clusters/TreeTab";
import { HeightHandle } from "./HeightHandle";
import { HistogramTab } from "./histogram/HistogramTab";
import { LineTab } from "./line/LineTab";
import { SceneOverview } from "./SceneOverview";
import { SitesTab } from "./sites/SitesTab";
import { SpaceTab } from "./space/SpaceTab";
import { SpectrumTab } from "./spectrum/SpectrumTab";
import { TabList } from "./TabList";
import { TimeTab } from "./time/TimeTab";
import { useCrosshairReadout } from "./useCrosshairReadout";
import { useTab } from "./useTab";
import { ViewBar } from "./ViewBar";

/** A plane and a matrix need to be about as high as they are wide. */
const TALL: Partial<Record<Tab, number>> = {
  space: 290,
  sites: 240,
  classes: 300,
  "first-check": 300,
  clusters: 216,
  tree: 240,
  "how-many": 240,
};

/** What needs all of the width. */
const WIDE: readonly Tab[] = ["classes", "first-check", "clusters", "tree", "how-many"];

/** What is under the crosshair, along a line, in a region; it follows the pointer without clicks. */
export function Readout() {
  const { readoutFolded, readoutHeight } = useView("readoutFolded", "readoutHeight");
  const tab = useTab();
  const height = Math.max(readoutHeight, TALL[tab] ?? 0);
  const { place, readout } = useCrosshairReadout();
  return (
    <Box as="section" aria-label="Readout" bg="paper" flex="none">
      {!readoutFolded && <HeightHandle />}
      <ViewBar place={place} readout={readout} />
      {!readoutFolded && (
        <Flex height={`${height}px`} borderTopWidth="1px" borderColor="line">
          {!WIDE.includes(tab) && <SceneOverview />}
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
  const tab = useTab();
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
    case "sites":
      return <SitesTab />;
    case "classes":
      return <ClassesTab />;
    case "first-check":
      return <FirstCheckTab />;
    case "clusters":
      return <ClustersTab />;
    case "tree":
      return <TreeTab />;
    case "how-many":
      return <CountsTab />;
  }
}
