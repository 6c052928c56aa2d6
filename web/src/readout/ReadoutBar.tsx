import { Flex, IconButton, Text } from "@chakra-ui/react";
import { ChevronDown, ChevronUp } from "lucide-react";

import { useLayers } from "../api/queries/layers";
import { useClasses } from "../api/queries/training";
import type { LandClass, Readout } from "../api/types";
import { type Coordinate, showNativePixels, showWholeScene } from "../map";
import { formatCount } from "../shared/format";
import { Quiet } from "../shared/Quiet";
import { useStudyId } from "../shared/study";
import { useView, useViewStore } from "../shared/viewStore";
import { useWork } from "../shared/workStore";

interface Props {
  readonly place: Coordinate | null;
  /** Null outside the scene, undefined while it is being read. */
  readonly readout: Readout | null | undefined;
}

/** The readout's head: what it shows, where the crosshair is and what the maps say there. */
export function ReadoutBar({ place, readout }: Props) {
  const { readoutFolded } = useView();
  const change = useViewStore((store) => store.change);
  const linked = useWork((store) => store.linked);
  const fold = readoutFolded ? "Open the readout" : "Fold the readout";
  return (
    <Flex px="3" height="30px" gap="4" align="center" color="quiet">
      <Text color="ink" fontWeight="650" borderBottomWidth="2px" borderColor="cool">
        Spectrum
      </Text>
      <Quiet type="button" onClick={() => linked && showWholeScene(linked)}>
        Whole scene
      </Quiet>
      <Quiet type="button" onClick={() => linked && showNativePixels(linked)}>
        One to one
      </Quiet>
      <Text flex="1" textAlign="end" truncate data-testid="readout-place">
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
  const { panes } = useView();
  const studyId = useStudyId();
  const { data: classes = [] } = useClasses(studyId);
  const { data: layers = [] } = useLayers(studyId);
  if (!place) return null;
  const spot = `${formatCount(place[0])} E, ${formatCount(place[1])} N`;
  if (readout === undefined) return <>{spot}</>;
  if (readout === null) return <>{spot} · outside the scene</>;
  const said = panes.flatMap((pane) => {
    if (pane.kind === "live") return [className(readout.live_code, classes)];
    if (pane.kind !== "layer") return [];
    const legend = layers.find((layer) => layer.id === pane.layerId)?.legend ?? [];
    return [className(readout.layer_codes[pane.layerId] ?? null, legend)];
  });
  const degrees = `${Math.abs(readout.latitude).toFixed(4)}° ${readout.latitude < 0 ? "S" : "N"}, ${Math.abs(readout.longitude).toFixed(4)}° ${readout.longitude < 0 ? "W" : "E"}`;
  const rowColumn = `row ${formatCount(readout.row)}, column ${formatCount(readout.column)}`;
  return <>{[spot, degrees, rowColumn, ...said].join(" · ")}</>;
}

function className(code: number | null, names: Pick<LandClass, "code" | "name">[]): string {
  if (code === null || code === 0) return "no data";
  return names.find((entry) => entry.code === code)?.name ?? "unclassified";
}
