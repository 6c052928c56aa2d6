import { Box, chakra, Table, Text } from "@chakra-ui/react";

import type { Scene } from "../../api/types";
import { formatCount } from "../../shared/format";

const Details = chakra("details", { base: { mt: "1" } });
const Summary = chakra("summary", { base: { cursor: "pointer", color: "quiet" } });

/** Position, role, file, wavelength and resolution side by side, so that none is mistaken. */
export function SceneFacts({ scene }: { readonly scene: Scene }) {
  const { grid } = scene;
  return (
    <Details>
      <Summary>{scene.bands.length} bands and facts</Summary>
      <Box overflowX="auto" mt="1">
        <Table.Root size="sm" aria-label={`Bands of ${scene.title}`}>
          <Table.Header>
            <Table.Row bg="transparent">
              <Head>#</Head>
              <Head>Role</Head>
              <Head end>µm</Head>
              <Head end>m</Head>
              <Head>File</Head>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {scene.bands.map((band, i) => (
              <Table.Row key={band.role} bg="transparent">
                <Cell>{i + 1}</Cell>
                <Cell>{band.role}</Cell>
                <Cell end>{band.wavelength_um.toFixed(3)}</Cell>
                <Cell end>{band.resolution_m}</Cell>
                <Cell>
                  <span title={band.file}>{band.file.replace(/^.*_/, "…_")}</span>
                </Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Box>
      <Text color="quiet" mt="1.5">
        {formatCount(grid.rows)} rows × {formatCount(grid.columns)} columns of {grid.pixel_size} m
        in {grid.crs}; sun {scene.sun_elevation_deg.toFixed(1)}° high. Left out of statistics and
        maps: {scene.excluded.map((name) => name.replaceAll("_", " ")).join(", ")}.
      </Text>
    </Details>
  );
}

interface CellProps {
  readonly end?: boolean;
  readonly children: React.ReactNode;
}

function Head({ end = false, children }: CellProps) {
  return (
    <Table.ColumnHeader px="1" py="0.5" color="quiet" textAlign={end ? "end" : "start"}>
      {children}
    </Table.ColumnHeader>
  );
}

function Cell({ end = false, children }: CellProps) {
  return (
    <Table.Cell px="1" py="0.5" textAlign={end ? "end" : "start"} borderColor="line">
      {children}
    </Table.Cell>
  );
}
