import { Box, Flex, Text } from "@chakra-ui/react";
import { Suspense, useCallback, useRef } from "react";

import { useScenes } from "../api/queries/scenes";
import type { Readout, Scene } from "../api/types";
import { curvesToCsv, SpectrumChart } from "../charts";
import { Quiet } from "../shared/Quiet";
import { saveFile } from "../shared/saveFile";
import { useStation } from "../shared/stations";
import { useStudyId } from "../shared/study";
import { useCurrentTraining } from "../shared/useCurrent";
import { useActiveClass } from "../shared/usePick";
import { Legend } from "./Legend";
import { type Beside, hasWavelengths, quantityWords, useSpectra } from "./useSpectra";
import { ValueTable } from "./ValueTable";

interface Props {
  readonly sceneId: number;
  readonly readout: Readout | null;
  /** The scene of the other pane, when it shows one. */
  readonly other: { sceneId: number; readout: Readout | null } | null;
}

const NO_ROLES: string[] = [];

/** Stations at which the spectrum of the class in hand stands behind the pixel's. */
const WITH_CLASS = new Set(["train", "classify", "check"]);

export function SpectrumTab({ sceneId, readout, other }: Props) {
  const { data: scenes } = useScenes(useStudyId());
  const scene = scenes?.find((s) => s.id === sceneId);
  const second = scenes?.find((s) => s.id === other?.sceneId);
  const beside = second ? { title: second.title, values: other?.readout?.values } : null;
  return scene ? <Spectrum scene={scene} readout={readout} beside={beside} /> : null;
}

interface SpectrumProps {
  readonly scene: Scene;
  readonly readout: Readout | null;
  readonly beside: Beside | null;
}

function Spectrum({ scene, readout, beside }: SpectrumProps) {
  const { data: training } = useCurrentTraining();
  const withClass = WITH_CLASS.has(useStation());
  const activeClass = useActiveClass();
  const classRow = withClass ? activeClass : null;
  const toPng = useRef<() => string>(null);
  const keep = useCallback((take: () => string) => {
    toPng.current = take;
  }, []);
  const { curves, marks } = useSpectra({
    scene,
    values: readout?.values,
    beside,
    classRow,
    training: training?.classes.find((c) => c.code === classRow?.code),
    trainedRoles: training?.roles ?? NO_ROLES,
  });
  const savePng = () => toPng.current && saveFile("spectrum.png", toPng.current());
  return (
    <Flex flex="1" minW="0" direction="column">
      <Flex flex="1" minH="0">
        <Box flex="1" minW="0">
          <Suspense fallback={null}>
            <SpectrumChart
              curves={curves}
              marks={marks}
              xTitle={hasWavelengths(scene) ? "wavelength, µm" : "band"}
              yTitle={quantityWords(scene)}
              label={inWords(scene, readout)}
              onReady={keep}
            />
          </Suspense>
        </Box>
        <Box flex="none" pr="3" overflowY="auto">
          <ValueTable curves={curves} marks={marks} />
        </Box>
      </Flex>
      <Flex px="3" pb="1" gap="3" color="quiet" justify="space-between">
        <Text truncate>
          {readout ? describePixel(scene, readout) : "Move over a pane to read a pixel's spectrum."}
        </Text>
        <Legend curves={curves} />
        <Flex gap="3" flex="none">
          <Quiet type="button" onClick={savePng}>
            Save as PNG
          </Quiet>
          <Quiet type="button" onClick={() => saveFile("spectrum.csv", curvesToCsv(curves, marks))}>
            Save as CSV
          </Quiet>
        </Flex>
      </Flex>
    </Flex>
  );
}

function describePixel(scene: Scene, { usable }: Readout): string {
  const remark = usable ? "" : ". This pixel takes no part: fill, cloud or cloud shadow.";
  return `${scene.title}, ${quantityWords(scene)}${remark}`;
}

function inWords(scene: Scene, readout: Readout | null): string {
  if (!readout) return "Spectrum of the pixel under the crosshair; none yet.";
  const values = scene.bands.map((band) => {
    const value = readout.values[band.role];
    return `${band.role} ${value === null || value === undefined ? "no data" : value.toFixed(3)}`;
  });
  return `Spectrum of the pixel under the crosshair: ${values.join(", ")}.`;
}
