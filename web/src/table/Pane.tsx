import { Box, Flex } from "@chakra-ui/react";
import { useState } from "react";

import {
  ALL_THERE,
  type Coordinate,
  Crosshair,
  type LinkedView,
  MapView,
  siteAt,
  type SiteShape,
  type SiteSource,
  type TileState,
} from "../map";
import { useBusy } from "../shared/busyStore";
import { togglePin } from "../shared/pins";
import { followCrosshair, moveCrosshair } from "../shared/pointerStore";
import { useStation } from "../shared/stations";
import { useOverlay } from "../shared/useOverlay";
import type { PaneIndex } from "../shared/view";
import { useWork } from "../shared/workStore";
import { Caption } from "./Caption";
import { handlePaneKey } from "./paneKeys";
import { PaneAreas } from "./PaneAreas";
import { PaneCloud } from "./PaneCloud";
import { PaneEdge } from "./PaneEdge";
import { PaneGrown } from "./PaneGrown";
import { PaneLine } from "./PaneLine";
import { PaneLit } from "./PaneLit";
import { PaneMarks } from "./PaneMarks";
import { PaneNext } from "./PaneNext";
import { PanePoints } from "./PanePoints";
import { PaneSign } from "./PaneSign";
import { PaneSites } from "./PaneSites";
import { PaneTiles } from "./PaneTiles";
import { PaneVeil } from "./PaneVeil";

interface Props {
  readonly index: PaneIndex;
  readonly linked: LinkedView;
  readonly source: SiteSource;
  readonly shapes: SiteShape[];
}

/** A caption and the picture below it. */
export function Pane({ index, linked, source, shapes }: Props) {
  const [tiles, setTiles] = useState<TileState>(ALL_THERE);
  useBusy(tiles.busy);
  const set = useWork((store) => store.set);
  const pin = usePinning(source);
  return (
    <Flex direction="column" minW="0" minH="0" borderRadius="4px" overflow="hidden">
      <Caption index={index} busy={tiles.busy} />
      <Box position="relative" flex="1" minH="0" bg="surround">
        <MapView
          linked={linked}
          label={`Pane ${index + 1}. Arrow keys move the crosshair, plus and minus zoom.`}
          onPointer={moveCrosshair}
          onClick={pin}
          onEnter={() => set({ activePane: index })}
          onKey={(event) => handlePaneKey(event, linked)}
        >
          <PaneTiles linked={linked} index={index} onState={setTiles} />
          <PaneCloud linked={linked} />
          <PaneLit />
          <PaneVeil index={index} linked={linked} />
          <PaneGrown />
          <PaneNext />
          <PaneSites index={index} source={source} shapes={shapes} />
          <PanePoints />
          <PaneAreas />
          <PaneLine />
          <PaneMarks />
          <Crosshair follow={followCrosshair} />
        </MapView>
        <PaneEdge index={index} />
        <PaneSign index={index} tiles={tiles} />
      </Box>
    </Flex>
  );
}

/** A click pins its pixel, unless a tool or a site takes it. */
function usePinning(source: SiteSource): (at: Coordinate) => void {
  const training = useStation() === "train";
  const withSites = useOverlay("sites");
  const tool = useWork((store) => store.tool);
  const siteKey = useWork((store) => store.siteKey);
  const areaTool = useWork((store) => store.areaTool);
  const lineTool = useWork((store) => store.lineTool);
  return (at) => {
    const drawing = areaTool !== null || lineTool || (training && tool !== "reshape");
    const takesSite = training && withSites && (siteKey !== null || siteAt(source, at) !== null);
    if (!drawing && !takesSite) togglePin(at);
  };
}
