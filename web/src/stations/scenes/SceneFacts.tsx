import { chakra, Text } from "@chakra-ui/react";
import { type ReactNode, useState } from "react";

import { useSceneRun, useStatistics } from "../../api/queries/scenes";
import type { Scene } from "../../api/types";
import { DataTable } from "../../shared/DataTable";
import { formatCount, formatFixed, formatValue } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { useStudyId } from "../../shared/study";

const Details = chakra("details", { base: { mt: "1" } });
const Summary = chakra("summary", { base: { cursor: "pointer", color: "quiet" } });

const COLUMNS = [
  { head: "#", end: true },
  { head: "Role" },
  { head: "µm", end: true },
  { head: "Pixel", end: true },
  { head: "Type" },
  { head: "Range", end: true },
  { head: "Mean", end: true },
  { head: "File" },
];

interface Props {
  readonly scene: Scene;
  readonly children: ReactNode;
}

/** The facts sheet of a scene: position, role, file, wavelength, pixel, type and range. */
export function SceneFacts({ scene, children }: Props) {
  const [open, setOpen] = useState(false);
  const { data: statistics } = useStatistics(scene.id, open);
  const byRole = new Map(statistics?.bands.map((band) => [band.role, band]));
  const rows = scene.bands.map((band, i) => {
    const found = byRole.get(band.role);
    return {
      key: band.role,
      cells: [
        i + 1,
        band.role,
        band.wavelength_um?.toFixed(3) ?? "–",
        Number(band.resolution_m.toPrecision(4)),
        band.kind,
        found ? `${formatValue(found.minimum)} to ${formatValue(found.maximum)}` : "…",
        found ? formatValue(found.mean) : "…",
        <span key="file" title={band.file}>
          {band.file.replace(/^.*[_/]/, "…")}
        </span>,
      ],
    };
  });
  return (
    <Details onToggle={(event) => setOpen(event.currentTarget.open)}>
      <Summary>{scene.bands.length} bands, facts and acts</Summary>
      <DataTable label={`Bands of ${scene.title}`} columns={COLUMNS} rows={rows} />
      {statistics && <Exactness scene={scene} exact={statistics.exact} n={statistics.n_pixels} />}
      <Text color="quiet" mt="1.5">
        {gridWords(scene)}
      </Text>
      <Text color="quiet" mt="1.5">
        {scene.sentence}
      </Text>
      {children}
    </Details>
  );
}

interface ExactProps {
  readonly scene: Scene;
  readonly exact: boolean;
  readonly n: number;
}

function Exactness({ scene, exact, n }: ExactProps) {
  const run = useSceneRun(useStudyId());
  if (exact) return <Text color="quiet">Counted over every usable pixel.</Text>;
  return (
    <Text color="quiet">
      From a coarse view of {formatCount(n)} pixels.{" "}
      <Quiet type="button" onClick={() => run.mutate({ id: scene.id, act: "statistics" })}>
        Count every pixel
      </Quiet>
    </Text>
  );
}

function gridWords({ grid, sun_elevation_deg, excluded, resampling }: Scene): string {
  const { left, right, top, bottom } = grid.extent;
  const sun = sun_elevation_deg === null ? "" : `; sun ${sun_elevation_deg.toFixed(1)}° high`;
  const out =
    excluded.length === 0
      ? ""
      : ` Left out of statistics and maps: ${excluded.join(", ").replaceAll("_", " ")}.`;
  return (
    `${formatCount(grid.rows)} rows × ${formatCount(grid.columns)} columns of ` +
    `${Number(grid.pixel_size.toPrecision(6))} in ${grid.crs.startsWith("EPSG:") ? grid.crs : "a system without a code"}, ` +
    `${formatFixed(left, 1)} to ${formatFixed(right, 1)} and ${formatFixed(bottom, 1)} to ` +
    `${formatFixed(top, 1)}; coarser bands by ${resampling === "nearest" ? "nearest neighbour" : resampling}${sun}.${out}`
  );
}
