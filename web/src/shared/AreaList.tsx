import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { sentenceOf } from "../api/problem";
import { useReadBoundary } from "../api/queries/corrections";
import type { Boundary } from "../api/types";
import type { AreaTool, Outline } from "../map";
import { CrsField } from "./CrsField";
import { FileButton } from "./FileButton";
import { formatHectares } from "./format";
import { Quiet } from "./Quiet";
import { Remark } from "./Remark";
import { ServerBoundaries } from "./ServerBoundaries";
import { useStudyId } from "./study";
import { Toggle } from "./Toggle";
import { useWork } from "./workStore";

const TOOL_WORDS: Record<AreaTool, string> = {
  outline: "Click the corners on a pane; a double click ends it.",
  rectangle: "Drag a box on a pane, or click two opposite corners.",
  brush: "Drag over pixels, or press Space at the crosshair; with Shift they are taken out again.",
};

/** Areas in hand: drawn on the panes, or read from a boundary file in any coordinate system. */
export function AreaList() {
  const areas = useWork((store) => store.areas);
  const areaTool = useWork((store) => store.areaTool);
  const set = useWork((store) => store.set);
  const reading = useReadBoundary(useStudyId());
  const [file, setFile] = useState<File | string | null>(null);
  const read = (chosen: File | string, crs: string | null) => {
    setFile(chosen);
    reading.mutate({ from: chosen, crs }, { onSuccess: (boundary) => add(boundary) });
  };
  const add = ({ features }: Boundary) =>
    set({
      areas: [
        ...useWork.getState().areas,
        ...features.map(({ name, geometry }, i) => ({
          key: `area:${Date.now()}:${i}`,
          name,
          outline: geometry as unknown as Outline,
        })),
      ],
    });
  return (
    <Box>
      <Flex gap="2" wrap="wrap">
        <Toggle
          label="Draw an outline"
          on={areaTool === "outline"}
          onClick={() => set({ areaTool: areaTool === "outline" ? null : "outline" })}
        />
        <Toggle
          label="Rectangle"
          on={areaTool === "rectangle"}
          onClick={() => set({ areaTool: areaTool === "rectangle" ? null : "rectangle" })}
        />
        <Toggle
          label="Brush"
          on={areaTool === "brush"}
          onClick={() => set({ areaTool: areaTool === "brush" ? null : "brush" })}
        />
        <FileButton
          label="Boundary file"
          size="xs"
          accept=".gpkg,.geojson,.json,.zip"
          onFile={(chosen) => read(chosen, null)}
        />
      </Flex>
      <ServerBoundaries onPath={(path) => read(path, null)} />
      {areaTool !== null && (
        <Text color="quiet" mt="1">
          {TOOL_WORDS[areaTool]}
        </Text>
      )}
      {reading.data && <BoundaryNews boundary={reading.data} />}
      {reading.error && <Remark tone="problem">{sentenceOf(reading.error)}</Remark>}
      {reading.error && file && sentenceOf(reading.error).includes("coordinate system") && (
        <Box mt="2">
          <CrsField
            label="It is in"
            value={null}
            onCrs={(crs) => {
              if (crs) read(file, crs);
            }}
          />
        </Box>
      )}
      {areas.map((area) => (
        <Flex key={area.key} justify="space-between" py="0.5">
          <Text truncate>{area.name}</Text>
          <Quiet
            type="button"
            aria-label={`Take ${area.name} away`}
            onClick={() => set({ areas: areas.filter((a) => a.key !== area.key) })}
          >
            take away
          </Quiet>
        </Flex>
      ))}
    </Box>
  );
}

function BoundaryNews({ boundary }: { readonly boundary: Boundary }) {
  const hectares = boundary.features.reduce((sum, f) => sum + f.hectares, 0);
  return (
    <Text color="quiet" mt="1" role="status">
      {boundary.features.length} {boundary.features.length === 1 ? "outline" : "outlines"},{" "}
      {formatHectares(hectares)} ha
      {boundary.reprojected ? `, reprojected from ${boundary.crs_name} (${boundary.crs})` : ""}.
    </Text>
  );
}
