import { chakra } from "@chakra-ui/react";

import type { AxisMark, Curve } from "../charts";

interface Props {
  readonly curves: readonly Curve[];
  readonly marks: readonly AxisMark[];
}

const Grid = chakra("table", { base: { fontSize: "0.92rem", lineHeight: 1.25 } });
const Cell = chakra("td", { base: { textAlign: "end", pl: "3", color: "ink" } });
const Head = chakra("th", {
  base: { textAlign: "start", fontWeight: 400, color: "quiet", whiteSpace: "nowrap" },
});

/** The values behind the curves, band by band. */
export function ValueTable({ curves, marks }: Props) {
  const columns = [...curves].reverse();
  return (
    <Grid aria-label="Values at the crosshair">
      <thead>
        <tr>
          <Head />
          {columns.map(({ name }) => (
            <Head key={name} style={{ textAlign: "end", paddingLeft: 12 }}>
              {name.endsWith("s.d.") ? "class mean" : name}
            </Head>
          ))}
        </tr>
      </thead>
      <tbody>
        {marks.map(({ at, label }) => (
          <tr key={label}>
            <Head scope="row">{label}</Head>
            {columns.map(({ name, points }) => (
              <Cell key={name}>{points.find(([x]) => x === at)?.[1].toFixed(3) ?? "–"}</Cell>
            ))}
          </tr>
        ))}
      </tbody>
    </Grid>
  );
}
