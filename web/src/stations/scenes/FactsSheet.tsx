import { Box, Text } from "@chakra-ui/react";

import { useCountStatistics, useScenes, useStatistics } from "../../api/queries/scenes";
import type { Scene, Statistics } from "../../api/types";
import { DataTable } from "../../shared/DataTable";
import {
  formatCount,
  formatDate,
  formatFixed,
  formatPercent,
  formatValue,
  formatLength,
} from "../../shared/format";
import { Part } from "../../shared/Part";
import { isAlike, quantityWords } from "../../shared/quantity";
import { Quiet } from "../../shared/Quiet";
import { SheetFrame } from "../../shared/SheetFrame";
import { useStudyId } from "../../shared/study";

interface Props {
  readonly sceneId: number;
  readonly onClose: () => void;
}

const BAND_COLUMNS = [
  { head: "#", end: true },
  { head: "Role" },
  { head: "µm", end: true },
  { head: "Measured at", end: true },
  { head: "Type" },
  { head: "Lowest", end: true },
  { head: "Highest", end: true },
  { head: "Mean", end: true },
  { head: "Std. dev.", end: true },
  { head: "File" },
];

/** Everything that is known of a scene, its bands side by side. */
export function FactsSheet({ sceneId, onClose }: Props) {
  const { data: scenes = [] } = useScenes(useStudyId());
  const { data: statistics } = useStatistics(sceneId, true);
  const scene = scenes.find((s) => s.id === sceneId);
  if (!scene) return null;
  return (
    <SheetFrame title={scene.title} purpose={scene.sentence} onClose={onClose}>
      <Part title="Bands">
        <DataTable
          label={`All facts of the bands of ${scene.title}`}
          columns={BAND_COLUMNS}
          rows={bandRows(scene, statistics)}
        />
        {statistics && <Exactness scene={scene} statistics={statistics} />}
      </Part>
      <Part title="Grid and values">
        {factsOf(scene).map(([name, value]) => (
          <Box
            key={name}
            display="flex"
            gap="3"
            py="1"
            borderBottomWidth="1px"
            borderColor="line"
            maxW="46rem"
          >
            <Text color="quiet" width="11rem" flex="none">
              {name}
            </Text>
            <Text>{value}</Text>
          </Box>
        ))}
      </Part>
    </SheetFrame>
  );
}

function bandRows(scene: Scene, statistics: Statistics | undefined) {
  const byRole = new Map(statistics?.bands.map((band) => [band.role, band]));
  return scene.bands.map((band, i) => {
    const found = byRole.get(band.role);
    const number = (value: number | null | undefined) =>
      value === undefined ? "…" : formatValue(value);
    return {
      key: band.role,
      cells: [
        i + 1,
        band.unit ? `${band.role} (${band.unit})` : band.role,
        band.wavelength_um?.toFixed(3) ?? "–",
        `${formatLength(band.pixel_size)} ${scene.grid.unit}`,
        band.kind,
        number(found?.minimum),
        number(found?.maximum),
        number(found?.mean),
        number(found?.standard_deviation),
        <span key="file" title={band.file}>
          {band.file.split("/").at(-1)}
        </span>,
      ],
    };
  });
}

interface ExactProps {
  readonly scene: Scene;
  readonly statistics: Statistics;
}

function Exactness({ scene, statistics }: ExactProps) {
  const count = useCountStatistics(useStudyId());
  const share = formatPercent(statistics.n_valid / Math.max(1, statistics.n_pixels));
  if (statistics.exact) {
    return (
      <Text color="quiet" mt="1">
        Counted over every pixel: {formatCount(statistics.n_valid)} of{" "}
        {formatCount(statistics.n_pixels)} are usable ({share}).
      </Text>
    );
  }
  return (
    <Text color="quiet" mt="1">
      From {formatCount(statistics.n_pixels)} pixels spread over the scene, {share} of them usable.{" "}
      <Quiet type="button" onClick={() => count.mutate(scene.id)}>
        Count every pixel
      </Quiet>
    </Text>
  );
}

/** What most bands mean, and those that mean something else by name. */
function valuesOf(scene: Scene): string {
  const unlike = scene.bands.filter((band) => !isAlike(scene, band));
  const others = unlike.map((band) => `${band.role}: ${quantityWords(band)}`);
  return [quantityWords(scene), ...others].join("; ");
}

function factsOf(scene: Scene): [string, string][] {
  const { grid, sun_elevation_deg: sun } = scene;
  const { left, right, top, bottom } = grid.extent;
  const sides = (a: number, b: number) => `${formatFixed(a, 2)} to ${formatFixed(b, 2)}`;
  return [
    ["Sensor and date", `${scene.sensor}, ${formatDate(scene.acquired)}`],
    ["Sun", sun === null ? "not told" : `${sun.toFixed(2)}° above the horizon`],
    ["Values", valuesOf(scene)],
    ["Rows × columns", `${formatCount(grid.rows)} × ${formatCount(grid.columns)}`],
    ["Pixel size", String(Number(grid.pixel_size.toPrecision(8)))],
    ["Coordinate system", grid.crs],
    ["Left to right", sides(left, right)],
    ["Bottom to top", sides(bottom, top)],
    ["Coarser bands by", scene.resampling === "nearest" ? "nearest neighbour" : scene.resampling],
    ["Quality band knows", listed(scene.flags)],
    ["Left out of statistics", listed(scene.excluded)],
    ["Usable pixels", formatPercent(scene.usable_share)],
  ];
}

function listed(names: readonly string[]): string {
  return names.length === 0 ? "nothing" : names.join(", ").replaceAll("_", " ");
}
