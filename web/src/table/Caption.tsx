import { Box, Flex, Spinner } from "@chakra-ui/react";

import type { PaneIndex, PaneShow } from "../shared/view";
import { useView } from "../shared/viewStore";
import { BreaksCaption } from "./BreaksCaption";
import { ClustersCaption } from "./ClustersCaption";
import { MapCaption } from "./MapCaption";
import { LiveCaption } from "./LiveCaption";
import { NamedCaption } from "./NamedCaption";
import { PaletteLegend } from "./PaletteLegend";
import { PictureCaption } from "./PictureCaption";
import { SceneCaption } from "./SceneCaption";
import { ShowChoice } from "./ShowChoice";
import { TidiedCaption } from "./TidiedCaption";
import { useMendedShow } from "./useMendedShow";
import { usePaneLayers } from "./usePaneLayers";

interface Props {
  readonly index: PaneIndex;
  readonly busy: boolean;
}

const UNFOLDED = { display: "block", lineClamp: "none" };

/** What a pane shows, as a sentence whose bold parts can be changed. */
export function Caption({ index, busy }: Props) {
  const { count } = useView("count");
  const { top, peeking, edge, beneathIndex, beneath } = usePaneLayers(index);
  const shownIndex = peeking ? beneathIndex : index;
  const shown = useMendedShow(peeking ? beneath : top);
  return (
    // Two lines in every pane, so that the same place lies at the same height; a longer sentence
    // unfolds over the picture while the pointer or the focus is on it.
    <Box as="header" className="group" position="relative" zIndex="1" height="50px" flex="none">
      <Flex
        bg="card"
        px="2.5"
        py="5px"
        minH="50px"
        align="flex-start"
        gap="2"
        lineHeight="1.55"
        color="quiet"
      >
        <Box
          flex="1"
          minW="0"
          lineClamp={2}
          css={{ ".group:hover &, .group:has(:focus-visible) &": UNFOLDED }}
          data-testid={`caption-${index + 1}`}
        >
          {peeking && "Beneath: "}
          <Sentence index={shownIndex} show={shown} />
          {edge !== null && !peeking && (
            <>
              {" "}
              · right of the edge <Beneath index={beneathIndex} show={beneath} />
            </>
          )}
          {count === 1 && edge === null && !peeking && (
            <>
              {" "}
              · beneath it <Beneath index={beneathIndex} show={beneath} />
            </>
          )}
        </Box>
        {shown.kind === "scene" && shown.palette && (
          <PaletteLegend show={shown} palette={shown.palette} />
        )}
        {busy && <Spinner size="xs" color="cool" mt="1" aria-label="Loading tiles" />}
      </Flex>
    </Box>
  );
}

function Sentence({ index, show }: BeneathProps) {
  switch (show.kind) {
    case "scene":
      return <SceneCaption index={index} show={show} />;
    case "live":
      return <LiveCaption index={index} show={show} />;
    case "clusters":
      return <ClustersCaption index={index} />;
    case "named":
      return <NamedCaption index={index} layerId={show.layerId} />;
    case "map":
      return <MapCaption index={index} show={show} />;
    case "tidied":
      return <TidiedCaption index={index} show={show} />;
    case "breaks":
      return <BreaksCaption index={index} show={show} />;
    case "picture":
      return <PictureCaption index={index} pictureId={show.pictureId} />;
  }
}

interface BeneathProps {
  readonly index: PaneIndex;
  readonly show: PaneShow;
}

function Beneath({ index, show }: BeneathProps) {
  return <ShowChoice index={index} show={show} />;
}
