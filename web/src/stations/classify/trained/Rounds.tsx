import { Box, Text } from "@chakra-ui/react";
import { Suspense, useState } from "react";

import { sentenceOf } from "../../../api/problem";
import { useRounds } from "../../../api/queries/trained";
import type { Trained } from "../../../api/types";
import { ALL, CurveChart, type Ranges } from "../../../charts";
import { formatPercent } from "../../../shared/format";

const PERCENT = 100;

/** How a network learnt: what it told right of pixels that did not teach it, round by round. */
export function Rounds({ one }: { readonly one: Trained }) {
  const { data = [], error } = useRounds(one.id);
  const [ranges, setRanges] = useState<Ranges>(ALL);
  if (error) return <Text color="quiet">{sentenceOf(error)}</Text>;
  const held = data.filter(({ right }) => right !== null);
  const curve = {
    name: held.length > 0 ? "told right" : "loss",
    colour: null,
    points: data.map(({ number, loss, right }): [number, number] => [
      number,
      held.length > 0 ? PERCENT * (right ?? 0) : loss,
    ]),
  };
  const best = held.reduce((most, { right }) => Math.max(most, right ?? 0), 0);
  return (
    <Box mt="2">
      <Box height="190px" display="flex" flexDirection="column">
        {data.length > 1 && (
          <Suspense fallback={null}>
            <CurveChart
              curves={[curve]}
              xAxis={{ title: "round", whole: true }}
              yAxis={{ title: held.length > 0 ? "told right of those held out, %" : "loss" }}
              title=""
              ranges={ranges}
              onRanges={setRanges}
              onReady={() => undefined}
              label={`How ${one.name} learnt, round by round`}
            />
          </Suspense>
        )}
      </Box>
      <Text color="quiet">
        {data.length} rounds
        {held.length > 0 &&
          `; at best ${formatPercent(best, 1)} of the training pixels held out of sites that did not teach it were told right. The round with the least loss on them was kept`}
        .
      </Text>
    </Box>
  );
}
