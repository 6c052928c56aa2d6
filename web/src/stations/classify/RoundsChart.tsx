import { Box, Text } from "@chakra-ui/react";
import { Suspense, useState } from "react";

import type { Round } from "../../api/types";
import { ALL, CurveChart, type Ranges } from "../../charts";
import { formatPercent, plural } from "../../shared/format";

const PERCENT = 100;
const SHARES: Ranges = { x: null, y: [0, PERCENT] };

interface Props {
  readonly rounds: readonly Round[];
  readonly label: string;
  /** More rounds are to come. */
  readonly learning?: boolean;
}

/** How a network learns: what it tells right of pixels that do not teach it, round by round. */
export function RoundsChart({ rounds, label, learning = false }: Props) {
  const [chosen, setRanges] = useState<Ranges | null>(null);
  const held = rounds.filter(({ right }) => right !== null);
  const curve = {
    name: held.length > 0 ? "told right" : "loss",
    colour: null,
    points: rounds.map(({ number, loss, right }): [number, number] => [
      number,
      held.length > 0 ? PERCENT * (right ?? 0) : loss,
    ]),
  };
  const best = held.reduce((most, { right }) => Math.max(most, right ?? 0), 0);
  return (
    <Box mt="2">
      <Box height="190px" display="flex" flexDirection="column">
        {rounds.length > 1 && (
          <Suspense fallback={null}>
            <CurveChart
              curves={[curve]}
              xAxis={{ title: "round", whole: true }}
              yAxis={{ title: held.length > 0 ? "told right of those held out, %" : "loss" }}
              title=""
              ranges={chosen ?? (held.length > 0 ? SHARES : ALL)}
              onRanges={setRanges}
              onReady={() => undefined}
              label={label}
            />
          </Suspense>
        )}
      </Box>
      <Text color="quiet" role={learning ? "status" : undefined}>
        {plural(rounds.length, "round")}
        {learning && " so far"}
        {held.length > 0 &&
          `; at best ${formatPercent(best, 1)} of the training pixels held out of sites that do not teach it are told right`}
        {held.length > 0 && !learning && ". The round with the least loss on them was kept"}.
      </Text>
    </Box>
  );
}
