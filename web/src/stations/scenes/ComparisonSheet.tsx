import { Button, Flex, Text } from "@chakra-ui/react";

import { sentenceOf } from "../../api/problem";
import { useCorrectLayers } from "../../api/queries/corrections";
import { useComparison } from "../../api/queries/scenes";
import type { Comparison } from "../../api/types";
import { DataTable } from "../../shared/DataTable";
import { formatCount, formatFixed, formatLength } from "../../shared/format";
import { Remark } from "../../shared/Remark";
import { SheetFrame } from "../../shared/SheetFrame";
import { useStudyId } from "../../shared/study";
import { MosaicOffer } from "./MosaicOffer";

type Compared = Comparison["scenes"][number];

interface Props {
  readonly sceneIds: readonly number[];
  readonly onClose: () => void;
}

const COLUMNS = [
  { head: "Scene" },
  { head: "Coordinate system" },
  { head: "Pixel", end: true },
  { head: "Rows × columns", end: true },
  { head: "Left, top", end: true },
  { head: "Against the first" },
];

/** Grids side by side, every difference named, and the offer to take it away. */
export function ComparisonSheet({ sceneIds, onClose }: Props) {
  const studyId = useStudyId();
  const { data, error } = useComparison(studyId, sceneIds);
  const correct = useCorrectLayers(studyId);
  const [first, ...others] = data?.scenes ?? [];
  const different = others.filter((scene) => scene.differences.length > 0);
  const bring = (scene: Compared) => {
    if (!first) return;
    const settings = { scene_id: first.id, resampling: "nearest" };
    correct.mutate({ layer_ids: [scene.id], steps: [{ operation: "regrid", settings }] });
  };
  return (
    <SheetFrame
      title="Grids compared"
      purpose="Regions, sites and maps can be carried from one scene to another only where the grids agree."
      onClose={onClose}
    >
      {error && <Remark tone="problem">{sentenceOf(error)}</Remark>}
      {data && (
        <DataTable
          label="Grids of the chosen scenes"
          columns={COLUMNS}
          rows={data.scenes.map((scene) => ({ key: scene.id, cells: cellsOf(scene, first) }))}
        />
      )}
      {data && others.length > 0 && different.length === 0 && (
        <Remark tone="calm">All of them lie on exactly the same grid.</Remark>
      )}
      {different.map((scene) => (
        <Remark key={scene.id} tone="caution">
          {scene.differences.map((sentence) => (
            <Text key={sentence}>{sentence}</Text>
          ))}
          <Flex mt="2">
            <Button
              size="xs"
              variant="outline"
              borderColor="line"
              loading={correct.isPending}
              onClick={() => bring(scene)}
            >
              {`Bring ${scene.title} onto the grid of ${first?.title ?? ""}`}
            </Button>
          </Flex>
        </Remark>
      ))}
      {different.length > 0 && different.every((scene) => scene.fits_beside) && (
        <MosaicOffer sceneIds={sceneIds} />
      )}
      {correct.error && <Remark tone="problem">{sentenceOf(correct.error)}</Remark>}
      {correct.data?.made.map((scene) => (
        <Remark key={scene.id} tone="calm">
          Made “{scene.title}”. It stands with the other scenes.
        </Remark>
      ))}
    </SheetFrame>
  );
}

function cellsOf(scene: Compared, first: Compared | undefined) {
  const { grid } = scene;
  return [
    scene.title,
    `${scene.crs_name} (${grid.crs.startsWith("EPSG:") ? grid.crs : "no code"})`,
    `${formatLength(grid.pixel_size)} ${grid.unit}`,
    `${formatCount(grid.rows)} × ${formatCount(grid.columns)}`,
    `${formatFixed(grid.extent.left, 1)}, ${formatFixed(grid.extent.top, 1)}`,
    scene === first
      ? "–"
      : scene.differences.length === 0
        ? "the same grid"
        : `${scene.differences.length} differences`.replace(/^1 differences/, "1 difference"),
  ];
}
