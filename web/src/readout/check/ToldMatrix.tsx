import { Box, chakra, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { FirstCheck, LandClass } from "../../api/types";
import { formatCount } from "../../shared/format";
import { Swatch } from "../../shared/Swatch";
import { confusionTint } from "../../shared/tint";
import { UpperToggle } from "../../shared/UpperToggle";
import { atUpperLevel } from "./upperMatrix";

interface Props {
  readonly data: FirstCheck;
  readonly classes: readonly LandClass[];
}

const Grid = chakra("table", { base: { borderCollapse: "collapse" } });
const Cell = chakra("td", { base: { textAlign: "center", minW: "1.8rem", height: "22px" } });
const Head = chakra("th", {
  base: { fontWeight: 400, px: "1", textAlign: "center", whiteSpace: "nowrap" },
});

/** Which class was taken for which, by folds. */
export function ToldMatrix({ data, classes }: Props) {
  const [upper, setUpper] = useState(false);
  const own = { codes: data.codes, counts: data.by_folds.counts };
  const { codes, counts } = upper ? atUpperLevel(own, classes) : own;
  const nameOf = (code: number) => classes.find((row) => row.code === code);
  const off = counts.flatMap((row, i) => row.filter((_, j) => i !== j));
  const worst = Math.max(1, ...off);
  return (
    <Box flex="none" pt="1">
      <UpperToggle upper={upper} onUpper={setUpper} />
      <Grid aria-label="Pixels by class as drawn, in rows, and as told, in columns">
        <thead>
          <tr>
            <Head />
            {codes.map((code) => (
              <Head key={code} scope="col" title={`taken for ${nameOf(code)?.name ?? ""}`}>
                <Swatch colour={nameOf(code)?.colour ?? ""} />
                <br />
                {code}
                <chakra.span srOnly> {nameOf(code)?.name}</chakra.span>
              </Head>
            ))}
          </tr>
        </thead>
        <tbody>
          {codes.map((drawn, i) => (
            <tr key={drawn}>
              <Head scope="row" title={`drawn as ${nameOf(drawn)?.name ?? ""}`}>
                <Swatch colour={nameOf(drawn)?.colour ?? ""} /> {drawn}
                <chakra.span srOnly> {nameOf(drawn)?.name}</chakra.span>
              </Head>
              {codes.map((told, j) => {
                const n = counts[i]?.[j] ?? 0;
                return (
                  <Cell
                    key={told}
                    style={{ background: confusionTint(n, i === j, worst) }}
                    color={n === 0 ? "quiet" : "ink"}
                    title={`${formatCount(n)} of ${nameOf(drawn)?.name ?? ""} taken for ${nameOf(told)?.name ?? ""}`}
                  >
                    {n === 0 ? "·" : n}
                  </Cell>
                );
              })}
            </tr>
          ))}
        </tbody>
      </Grid>
      <Text color="quiet" mt="1">
        Rows as drawn, columns as told: pixels, by folds
      </Text>
    </Box>
  );
}
