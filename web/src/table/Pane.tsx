import { Box, Flex } from "@chakra-ui/react";
import { useState } from "react";

import {
  Crosshair,
  type LinkedView,
  MapView,
  type SiteShape,
  SitesLayer,
  type SiteSource,
  SiteTools,
} from "../map";
import { useStation } from "../shared/stations";
import { useActiveClass } from "../shared/usePick";
import { useView } from "../shared/viewStore";
import { followCrosshair, useWork } from "../shared/workStore";
import { Caption } from "./Caption";
import { handlePaneKey } from "./paneKeys";
import { PaneAreas } from "./PaneAreas";
import { PanePoints } from "./PanePoints";
import { PaneTiles } from "./PaneTiles";
import { useSiteActs } from "./useSiteActs";

interface Props {
  readonly index: 0 | 1;
  readonly linked: LinkedView;
  readonly source: SiteSource;
  readonly shapes: SiteShape[];
}

const SHOWS_SITES = new Set(["train", "classify"]);
const SHOWS_AREAS = new Set(["scenes", "correct"]);

/** A caption and the picture below it. */
export function Pane({ index, linked, source, shapes }: Props) {
  const station = useStation();
  const show = useView().panes[index];
  const [busy, setBusy] = useState(false);
  const { tool, siteKey, set } = useWork();
  const activeClass = useActiveClass();
  const acts = useSiteActs(source, shapes);
  const withSites = SHOWS_SITES.has(station) && show.kind === "scene";
  return (
    <Flex direction="column" flex="1" minW="0" borderRadius="4px" overflow="hidden">
      <Caption index={index} busy={busy} />
      <Box position="relative" flex="1" minH="0" bg="surround">
        <MapView
          linked={linked}
          label={`Pane ${index + 1}. Arrow keys move the crosshair, plus and minus zoom.`}
          onPointer={(crosshair) => set({ crosshair })}
          onKey={(event) => handlePaneKey(event, linked)}
        >
          <PaneTiles linked={linked} show={show} onBusy={setBusy} />
          {withSites && <SitesLayer source={source} selected={siteKey} />}
          {station === "train" && (
            <SiteTools
              source={source}
              tool={tool}
              selected={withSites ? siteKey : null}
              colour={activeClass?.colour ?? "#888888"}
              crosshair={() => useWork.getState().crosshair}
              onDrawn={acts.draw}
              onSelect={(key) => set({ siteKey: key })}
              onReshaped={acts.reshape}
            />
          )}
          {station === "check" && <PanePoints />}
          {SHOWS_AREAS.has(station) && <PaneAreas />}
          <Crosshair follow={followCrosshair} />
        </MapView>
      </Box>
    </Flex>
  );
}
