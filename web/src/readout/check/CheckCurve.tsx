import { Box, Text } from "@chakra-ui/react";
import { Suspense, useState } from "react";

import type { FirstCheck } from "../../api/types";
import { ALL, CurveChart, type Ranges } from "../../charts";

const PERCENT = 100;

/** What more sites of each class would bring. */
export function CheckCurve({ data }: { readonly data: FirstCheck }) {
  const [ranges, setRanges] = useState<Ranges>(ALL);
  const curve = {
    name: "told right",
    colour: null,
    points: data.curve.map(({ n_sites, right }): [number, number] => [n_sites, PERCENT * right]),
    spread: data.curve.map(({ n_sites, right, deviation }): [number, number, number] => [
      n_sites,
      PERCENT * (right - deviation),
      PERCENT * Math.min(1, right + deviation),
    ]),
  };
  return (
    <Box flex="1" minW="14rem" display="flex" flexDirection="column">
      <Box flex="1" minH="150px">
        {data.curve.length > 1 && (
          <Suspense fallback={null}>
            <CurveChart
              curves={[curve]}
              xAxis={{ title: "sites of each class, at most", whole: true }}
              yAxis={{ title: "told right, %" }}
              title=""
              ranges={ranges}
              onRanges={setRanges}
              onReady={() => undefined}
              label="Share of held-out training pixels told right by number of sites"
            />
          </Suspense>
        )}
      </Box>
      <Text px="1" lineHeight="1.35">
        {data.curve_words}
      </Text>
    </Box>
  );
}
