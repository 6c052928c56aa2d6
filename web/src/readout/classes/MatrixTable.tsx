import { chakra } from "@chakra-ui/react";

interface Props {
  readonly roles: readonly string[];
  readonly matrix: readonly (readonly (number | null)[])[];
  readonly label: string;
  /** From -1 to 1; else any numbers, toned by their part of the largest. */
  readonly isCorrelation: boolean;
}

const Grid = chakra("table", { base: { borderCollapse: "collapse" } });
const Head = chakra("th", { base: { fontWeight: 400, px: "1", whiteSpace: "nowrap" } });
const Cell = chakra("td", {
  base: { textAlign: "end", px: "1", minW: "2.3rem", height: "22px" },
});

/** A matrix of bands: cool where both rise together, warm where one falls as the other rises. */
export function MatrixTable({ roles, matrix, label, isCorrelation }: Props) {
  const largest = Math.max(1e-300, ...matrix.flat().map((value) => Math.abs(value ?? 0)));
  const words = (value: number | null) => {
    if (value === null) return "–";
    return isCorrelation ? value.toFixed(2).replace("-0.00", "0.00") : value.toExponential(1);
  };
  return (
    <Grid aria-label={label}>
      <thead>
        <tr>
          <Head />
          {roles.map((role) => (
            <Head key={role} scope="col">
              {role}
            </Head>
          ))}
        </tr>
      </thead>
      <tbody>
        {roles.map((role, i) => (
          <tr key={role}>
            <Head scope="row" textAlign="start">
              {role}
            </Head>
            {roles.map((other, j) => {
              const value = matrix[i]?.[j] ?? null;
              const part = (value ?? 0) / (isCorrelation ? 1 : largest);
              return (
                <Cell key={other} style={{ background: tint(part) }}>
                  {words(value)}
                </Cell>
              );
            })}
          </tr>
        ))}
      </tbody>
    </Grid>
  );
}

function tint(part: number): string {
  const share = Math.round(38 * Math.abs(part));
  const colour = part < 0 ? "warm" : "cool";
  return `color-mix(in srgb, var(--chakra-colors-${colour}) ${share}%, transparent)`;
}
