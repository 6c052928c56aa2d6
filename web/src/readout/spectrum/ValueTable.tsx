import { Box, chakra } from "@chakra-ui/react";

import type { AxisMark, Curve } from "../../charts";
import { formatDigits } from "../../shared/format";
import { LineSign } from "../LineSign";

interface Props {
  readonly curves: readonly Curve[];
  readonly marks: readonly AxisMark[];
  /** Values that are no part of a spectrum: indices, ratios, textures. */
  readonly others: readonly LayerValue[];
}

export interface LayerValue {
  key: string;
  name: string;
  /** The layer it belongs to. */
  title: string;
  value: number | null;
}

const MOST_COLUMNS = 4;

const Grid = chakra("table", { base: { fontSize: "0.92rem", lineHeight: 1.25 } });
const Cell = chakra("td", { base: { textAlign: "end", pl: "2", color: "ink" } });
const Head = chakra("th", {
  base: { textAlign: "start", fontWeight: 400, color: "quiet", whiteSpace: "nowrap" },
});

/** The values behind the curves, band by band, each column under the sign of its line. */
export function ValueTable({ curves, marks, others }: Props) {
  const columns = [...curves]
    .filter((curve) => !curve.plain)
    .reverse()
    .sort((a, b) => Number(a.dashed ?? false) - Number(b.dashed ?? false))
    .slice(0, MOST_COLUMNS);
  return (
    <Box
      flex="none"
      pe="3"
      overflow="auto"
      maxW={{ base: "44%", xl: "60%" }}
      tabIndex={0}
      role="group"
      aria-label="Values, to be scrolled"
    >
      <Grid aria-label="Values at the crosshair">
        <thead>
          <tr>
            <Head />
            {columns.map((curve) => (
              <Head
                key={curve.name}
                title={curve.name}
                style={{ textAlign: "end", paddingLeft: 8 }}
              >
                <LineSign curve={curve} /> {shorten(curve)}
              </Head>
            ))}
          </tr>
        </thead>
        <tbody>
          {others.map(({ key, name, title, value }) => (
            <tr key={key} title={title}>
              <Head scope="row">{name}</Head>
              <Cell fontWeight="650">{formatDigits(value)}</Cell>
            </tr>
          ))}
          {marks.map(({ at, label }) => (
            <tr key={label}>
              <Head scope="row">{label}</Head>
              {columns.map(({ name, points }) => (
                <Cell key={name}>{formatDigits(points.find(([x]) => x === at)?.[1] ?? null)}</Cell>
              ))}
            </tr>
          ))}
        </tbody>
      </Grid>
    </Box>
  );
}

function shorten({ name, short }: Curve): string {
  const plain = short ?? name.replace(", mean ± 1 s.d.", "");
  return plain.length > 10 ? `${plain.slice(0, 9)}…` : plain;
}
