import { Box, chakra } from "@chakra-ui/react";

import type { LandClass, Pair } from "../../api/types";
import { GOOD, toneOf } from "../../shared/apart";
import { Swatch } from "../../shared/Swatch";

export type Measure = "jeffries_matusita" | "transformed_divergence" | "bhattacharyya";

interface Props {
  readonly pairs: readonly Pair[];
  readonly classes: readonly LandClass[];
  readonly measure: Measure;
  readonly chosen: readonly [number, number] | null;
  readonly onChoose: (codes: readonly [number, number]) => void;
}

const Grid = chakra("table", { base: { borderCollapse: "collapse" } });
const Head = chakra("th", { base: { fontWeight: 400, px: "1", whiteSpace: "nowrap" } });
const Cell = chakra("button", {
  base: {
    width: "100%",
    minW: "2.5rem",
    minH: "24px",
    cursor: "pointer",
    _pressed: { outline: "2px solid {colors.cool}" },
  },
});

/** Every pair of classes once, the value in the tone that it deserves. */
export function PairTriangle({ pairs, classes, measure, chosen, onChoose }: Props) {
  const codes = [...new Set(pairs.flatMap((p) => [p.code, p.other_code]))].sort((a, b) => a - b);
  const row = (code: number) => classes.find((one) => one.code === code);
  const find = (a: number, b: number) => pairs.find((p) => p.code === a && p.other_code === b);
  return (
    <Box flex="none" pt="1">
      <Grid aria-label="How far every two classes are apart">
        <tbody>
          {codes.slice(1).map((b, i) => (
            <tr key={b}>
              <Head scope="row" textAlign="start" title={row(b)?.name}>
                <Swatch colour={row(b)?.colour ?? ""} /> {b}
                <chakra.span srOnly> {row(b)?.name}</chakra.span>
              </Head>
              {codes.slice(0, i + 1).map((a) => {
                const pair = find(a, b);
                const names = `${row(a)?.name ?? ""} and ${row(b)?.name ?? ""}`;
                return (
                  <td key={a}>
                    {pair && (
                      <Cell
                        type="button"
                        color={tone(pair, measure)}
                        fontWeight={tone(pair, measure) === "good" ? undefined : 650}
                        aria-pressed={chosen?.[0] === a && chosen[1] === b}
                        title={names}
                        aria-label={`${pair[measure].toFixed(2)}, ${names}`}
                        onClick={() => onChoose([a, b])}
                      >
                        {pair[measure].toFixed(2)}
                      </Cell>
                    )}
                  </td>
                );
              })}
            </tr>
          ))}
          <tr>
            <Head />
            {codes.slice(0, -1).map((code) => (
              <Head key={code} scope="col" title={row(code)?.name}>
                <Swatch colour={row(code)?.colour ?? ""} /> {code}
                <chakra.span srOnly> {row(code)?.name}</chakra.span>
              </Head>
            ))}
          </tr>
        </tbody>
      </Grid>
    </Box>
  );
}

/** A Bhattacharyya distance is judged by the Jeffries-Matusita distance that it makes. */
function tone(pair: Pair, measure: Measure): string {
  const value = measure === "bhattacharyya" ? pair.jeffries_matusita : pair[measure];
  return toneOf(Math.min(value, GOOD));
}
