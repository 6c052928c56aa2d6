import { Box, chakra } from "@chakra-ui/react";

import type { Accuracy } from "../../api/types";
import { Swatch } from "../../shared/Swatch";
import { confusionTint } from "../../shared/tint";
import type { Cell } from "./AccuracyReport";

interface Props {
  readonly accuracy: Accuracy;
  readonly layerId: number;
  readonly cell: Cell | null;
  readonly onChoose: (cell: Cell) => void;
}

const Grid = chakra("table", { base: { borderCollapse: "collapse", width: "100%" } });
const Head = chakra("th", { base: { fontWeight: 400, padding: "2px", textAlign: "center" } });
const Total = chakra("td", { base: { textAlign: "center", fontWeight: 650 } });
const Count = chakra("button", {
  base: {
    width: "100%",
    minW: "24px",
    minH: "24px",
    cursor: "pointer",
    _disabled: { color: "quiet", opacity: 0.55, cursor: "default" },
    _pressed: { outline: "2px solid {colors.cool}" },
  },
});

/** Counts: rows as mapped, columns as found on the ground; a cell shows its points. */
export function ErrorMatrix({ accuracy, layerId, cell, onChoose }: Props) {
  const { codes, own_codes: own, names, colours, counts } = accuracy;
  const worst = Math.max(1, ...counts.flatMap((row, i) => row.filter((_, j) => i !== j)));
  return (
    <Box overflowX="auto">
      <Grid aria-label="Error matrix, rows as mapped, columns as on the ground">
        <thead>
          <tr>
            <Head />
            {codes.map((code, j) => (
              <Head key={code} scope="col" title={names[j]}>
                <HeadWords code={own[j] ?? code} name={names[j]} colour={colours[j]} stacked />
              </Head>
            ))}
            <Head scope="col">all</Head>
          </tr>
        </thead>
        <tbody>
          {codes.map((mapped, i) => (
            <tr key={mapped}>
              <Head scope="row" title={names[i]}>
                <HeadWords code={own[i] ?? mapped} name={names[i]} colour={colours[i]} />
              </Head>
              {codes.map((reference, j) => {
                const n = counts[i]?.[j] ?? 0;
                return (
                  <td key={reference} style={{ background: confusionTint(n, i === j, worst) }}>
                    <Count
                      type="button"
                      disabled={n === 0}
                      aria-pressed={cell?.mapped === mapped && cell.reference === reference}
                      title={`${n}: mapped ${names[i] ?? ""}, on the ground ${names[j] ?? ""}`}
                      aria-label={`${n} mapped ${names[i] ?? ""}, on the ground ${names[j] ?? ""}`}
                      onClick={() => onChoose({ layerId, mapped, reference })}
                    >
                      {n}
                    </Count>
                  </td>
                );
              })}
              <Total>{sum(counts[i] ?? [])}</Total>
            </tr>
          ))}
          <tr>
            <Head scope="row">all</Head>
            {codes.map((reference, j) => (
              <Total key={reference}>{sum(counts.map((row) => row[j] ?? 0))}</Total>
            ))}
            <Total>{sum(counts.flat())}</Total>
          </tr>
        </tbody>
      </Grid>
    </Box>
  );
}

function sum(counts: readonly number[]): number {
  return counts.reduce((all, n) => all + n, 0);
}

interface HeadProps {
  readonly code: number;
  readonly name: string | undefined;
  readonly colour: string | undefined;
  /** Above one another, so that nine columns find room. */
  readonly stacked?: boolean;
}

/** Colour and code, as they stand before the names in the table above; never the colour alone. */
function HeadWords({ code, name, colour, stacked = false }: HeadProps) {
  return (
    <chakra.span
      whiteSpace="nowrap"
      display={stacked ? "inline-flex" : "inline"}
      flexDirection="column"
      alignItems="center"
    >
      <Swatch colour={colour ?? ""} /> {code}
      <chakra.span srOnly> {name}</chakra.span>
    </chakra.span>
  );
}
