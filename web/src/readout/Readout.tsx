import { Box, Flex } from "@chakra-ui/react";

import { useReadout } from "../api/queries/scenes";
import { useStudyId } from "../shared/study";
import { useCurrentTraining } from "../shared/useCurrent";
import type { View } from "../shared/view";
import { useView } from "../shared/viewStore";
import { ReadoutBar } from "./ReadoutBar";
import { SpectrumTab } from "./SpectrumTab";
import { useCrosshairPlace } from "./useCrosshairPlace";

/** What is under the crosshair; it follows the pointer without clicks. */
export function Readout() {
  const studyId = useStudyId();
  const view = useView();
  const place = useCrosshairPlace();
  const { data: training } = useCurrentTraining();
  const [sceneId, otherId] = shownScenes(view);
  const other = useReadout(
    place && otherId !== null
      ? { sceneId: otherId, x: place[0], y: place[1], live: null, layers: [] }
      : null,
  );
  const query = useReadout(
    place && {
      sceneId,
      x: place[0],
      y: place[1],
      live: training && training.problem === null ? training.version : null,
      layers: view.panes.flatMap((pane) => (pane.kind === "layer" ? [pane.layerId] : [])),
    },
  );
  const readout = query.data ?? null;
  return (
    <Box as="section" aria-label="Readout" bg="paper" borderTopWidth="1px" borderColor="line">
      <ReadoutBar place={place} readout={query.data} />
      {!view.readoutFolded && (
        <Flex height="162px">
          <SpectrumTab
            key={studyId}
            sceneId={sceneId}
            readout={readout}
            other={otherId === null ? null : { sceneId: otherId, readout: other.data ?? null }}
          />
        </Flex>
      )}
    </Box>
  );
}

/** The scene whose values are read: the first that a pane shows, else the one being trained on;
 * and another one, when both panes show scenes: before and after, or two dates. */
function shownScenes(view: View): [number, number | null] {
  const shown = view.panes.flatMap((pane) => (pane.kind === "scene" ? [pane.sceneId] : []));
  const [first = view.sceneId, second = null] = new Set(shown);
  return [first, second];
}
