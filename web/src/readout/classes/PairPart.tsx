import { Box, Flex, Text } from "@chakra-ui/react";
import { Suspense, useState } from "react";

import { usePairBands } from "../../api/queries/judging";
import type { LandClass, Pair, Training } from "../../api/types";
import { ALL, type Curve, CurveChart, type Ranges } from "../../charts";
import { GOOD } from "../../shared/apart";
import { Quiet } from "../../shared/Quiet";
import { useStudyId } from "../../shared/study";
import { useCurrentScene } from "../../shared/useCurrent";
import { useView, useViewStore } from "../../shared/viewStore";

interface Props {
  readonly pair: Pair;
  readonly classes: readonly LandClass[];
  readonly training: Training | undefined;
}

/** Two classes: their spectra with spread, and the bands that tell them apart. */
export function PairPart({ pair, classes, training }: Props) {
  const scene = useCurrentScene();
  const view = useView("sceneId", "roles");
  const change = useViewStore((store) => store.change);
  const [ranges, setRanges] = useState<Ranges>(ALL);
  const codes = [pair.code, pair.other_code] as const;
  const { data } = usePairBands(useStudyId(), { ...view, roles: scene.default_roles }, codes);
  const names = codes.map((code) => classes.find((one) => one.code === code)?.name ?? "");
  const best = data?.subsets.find(({ worst }) => worst >= GOOD) ?? data?.subsets.at(-1);
  const curves = codes.flatMap((code) => curveOf(code, classes, training, scene.bands));
  return (
    <Flex direction="column" flex="1" minW="15rem">
      <Text fontWeight="650" pt="1">
        {names.join(" and ")}
      </Text>
      <Box flex="1" minH="120px">
        <Suspense fallback={null}>
          <CurveChart
            curves={curves}
            xAxis={{ title: "wavelength, µm" }}
            yAxis={{ title: "mean and s.d." }}
            title=""
            ranges={ranges}
            onRanges={setRanges}
            onReady={() => undefined}
            label={`Mean spectra of ${names.join(" and ")}`}
          />
        </Suspense>
      </Box>
      {best && (
        <Text lineHeight="1.35">
          {best.worst >= GOOD ? "Apart with " : "No bands tell them well apart; best are "}
          {best.roles.join(", ")} ({best.worst.toFixed(2)}).{" "}
          <Quiet
            type="button"
            onClick={() =>
              change({
                roles: scene.bands
                  .map(({ role }) => role)
                  .filter((role) => view.roles.includes(role) || best.roles.includes(role)),
              })
            }
          >
            Use them, too
          </Quiet>
        </Text>
      )}
    </Flex>
  );
}

function curveOf(
  code: number,
  classes: readonly LandClass[],
  training: Training | undefined,
  bands: readonly { role: string; wavelength_um: number | null }[],
): Curve[] {
  const row = classes.find((one) => one.code === code);
  const found = training?.classes.find((one) => one.code === code);
  if (!row || !found || !training) return [];
  const places = training.roles.map((role, i) => ({
    x: bands.find((band) => band.role === role)?.wavelength_um ?? i,
    mean: found.mean[i] ?? 0,
    deviation: found.standard_deviation[i] ?? 0,
  }));
  const ordered = places.toSorted((a, b) => a.x - b.x);
  return [
    {
      name: row.name,
      colour: row.colour,
      points: ordered.map(({ x, mean }): [number, number] => [x, mean]),
      spread: ordered.map(({ x, mean, deviation }): [number, number, number] => [
        x,
        mean - deviation,
        mean + deviation,
      ]),
    },
  ];
}
