import { Flex, IconButton, Text } from "@chakra-ui/react";
import { ChevronDown, ChevronUp } from "lucide-react";

import { useMaps } from "../api/queries/maps";
import { useClasses } from "../api/queries/training";
import type { LandClass, Readout } from "../api/types";
import { type Coordinate, ScaleBar, showNativePixels, showWholeScene } from "../map";
import { formatCoordinate, formatCount } from "../shared/format";
import { Quiet } from "../shared/Quiet";
import { useStudyId } from "../shared/study";
import { useCurrentTraining } from "../shared/useCurrent";
import { useShownPanes, useView, useViewStore } from "../shared/viewStore";
import { useWork } from "../shared/workStore";
import { GoTo } from "./GoTo";
import { PaneCountChoice } from "./PaneCountChoice";

interface Props {
  readonly place: Coordinate | null;
  /** Undefined while it is being read. */
  readonly readout: Readout | undefined;
}

/** Below the panes: their scale and number, where the crosshair is, what the maps say there. */
export function ViewBar({ place, readout }: Props) {
  const { readoutFolded } = useView("readoutFolded");
  const change = useViewStore((store) => store.change);
  const linked = useWork((store) => store.linked);
  const fold = readoutFolded ? "Open the readout" : "Fold the readout";
  return (
    <Flex
      px="3"
      height="30px"
      gap="3"
      align="center"
      color="quiet"
      borderTopWidth="1px"
      borderColor="line"
    >
      {linked && <ScaleBar linked={linked} />}
      <PaneCountChoice />
      <Quiet
        type="button"
        aria-label="Whole scene"
        title="Whole scene (key W)"
        onClick={() => linked && showWholeScene(linked)}
      >
        Whole
      </Quiet>
      <Quiet
        type="button"
        aria-label="1 : 1, one screen pixel per scene pixel"
        title="One screen pixel per scene pixel (key Q)"
        onClick={() => linked && showNativePixels(linked)}
      >
        1 : 1
      </Quiet>
      <GoTo />
      <Text flex="1" minW="0" textAlign="end" truncate data-testid="readout-place">
        <Where place={place} readout={readout} />
      </Text>
      <IconButton
        size="2xs"
        variant="ghost"
        aria-label={fold}
        title={fold}
        onClick={() => change({ readoutFolded: !readoutFolded })}
      >
        {readoutFolded ? <ChevronUp /> : <ChevronDown />}
      </IconButton>
    </Flex>
  );
}

function Where({ place, readout }: Props) {
  const panes = useShownPanes();
  const studyId = useStudyId();
  const { data: classes = [] } = useClasses(studyId);
  const { data: layers = [] } = useMaps(studyId);
  const linked = useWork((store) => store.linked);
  const { data: training } = useCurrentTraining();
  const hasLive = training?.problem === null;
  if (!place) return null;
  const spot = formatCoordinate(place, linked?.grid.is_geographic ?? false);
  if (readout === undefined) return <>{spot}</>;
  const [pixel] = readout.scenes;
  if (!pixel) return <>{spot} · outside the scene</>;
  const said = panes.flatMap((pane) => {
    if (pane.kind === "live")
      return hasLive && !pane.method ? [className(readout.live_code, classes)] : [];
    if (pane.kind !== "map" && pane.kind !== "named") return [];
    const legend = layers.find((layer) => layer.id === pane.layerId)?.legend ?? [];
    return [className(readout.layer_codes[pane.layerId] ?? null, legend)];
  });
  const degrees = degreeWords(readout.latitude, readout.longitude);
  const rowColumn = `row ${formatCount(pixel.row)}, col ${formatCount(pixel.column)}`;
  return <>{[...said, spot, rowColumn, ...degrees].join(" · ")}</>;
}

/** Nothing where the coordinate system does not reach the earth. */
function degreeWords(latitude: number | null, longitude: number | null): string[] {
  if (latitude === null || longitude === null) return [];
  const northing = `${Math.abs(latitude).toFixed(4)}° ${latitude < 0 ? "S" : "N"}`;
  return [`${northing}, ${Math.abs(longitude).toFixed(4)}° ${longitude < 0 ? "W" : "E"}`];
}

function className(code: number | null, names: Pick<LandClass, "code" | "name">[]): string {
  if (code === null || code === 0) return "no data";
  return names.find((entry) => entry.code === code)?.name ?? "unclassified";
}
