import { Box, Flex } from "@chakra-ui/react";
import { useState } from "react";

import type { Study } from "../api/types";
import { Readout } from "../readout";
import { useStation } from "../shared/stations";
import { useWork } from "../shared/workStore";
import { Table } from "../table";
import { Asking } from "./Asking";
import { FirstGuide } from "./FirstGuide";
import { HelpSheet } from "./HelpSheet";
import { LayersCard } from "./layers/LayersCard";
import { NoteDialog } from "./NoteDialog";
import { StationCard } from "./StationCard";
import { StationLine } from "./StationLine";
import { StationSheet } from "./StationSheet";
import { TopBar } from "./TopBar";
import { useFollowNews } from "./useFollowNews";
import { useRecoverUnsaved } from "./useRecoverUnsaved";
import { useSendWaiting } from "./useSendWaiting";
import { useShortcuts } from "./useShortcuts";

/** The frame: bar above, line of stations left, panes in the middle, card right, readout below. */
export function Shell({ study }: { readonly study: Study }) {
  const station = useStation();
  const [help, setHelp] = useState(false);
  const sheet = useWork((store) => store.sheet);
  const layersOpen = useWork((store) => store.layersOpen);
  useFollowNews();
  useRecoverUnsaved();
  useSendWaiting();
  useShortcuts(() => setHelp(true));
  return (
    // In a window too small for all of it, the page is scrolled; the panes keep their size.
    <Flex direction="column" height="100vh" minW="900px" minH="560px">
      <TopBar study={study} onHelp={() => setHelp(true)} />
      <Flex flex="1" minH="0">
        <StationLine />
        <Flex as="main" direction="column" flex="1" minW="0">
          {sheet ? (
            <StationSheet sheet={sheet} />
          ) : (
            <>
              <Table key={study.id} />
              <Readout />
            </>
          )}
        </Flex>
        <Flex
          as="aside"
          direction="column"
          width="340px"
          flex="none"
          bg="paper"
          borderLeftWidth="1px"
          borderColor="line"
          overflow="hidden"
        >
          <FirstGuide />
          <Box flex="1" minH="0" position="relative">
            {layersOpen ? <LayersCard /> : <StationCard station={station} />}
          </Box>
        </Flex>
      </Flex>
      <NoteDialog />
      <Asking />
      {help && <HelpSheet onClose={() => setHelp(false)} />}
    </Flex>
  );
}
