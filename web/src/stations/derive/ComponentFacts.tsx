import { Text } from "@chakra-ui/react";

import type { Scene } from "../../api/types";
import { ScreeStrip } from "../../charts";
import { DataTable } from "../../shared/DataTable";
import { formatCount, formatDigits } from "../../shared/format";
import { Part } from "../../shared/Part";

interface Found {
  roles: string[];
  loadings: number[][];
  eigenvalues: number[];
  n_components: number;
  n_pixels: number;
}

/** How much each component holds, and of which bands. */
export function ComponentFacts({ scene }: { readonly scene: Scene }) {
  const [step] = scene.steps;
  if (!step) return null;
  const found = step.settings as unknown as Found;
  const isNoise = step.operation === "noise-fraction";
  const total = found.eigenvalues.reduce((sum, v) => sum + v, 0);
  const columns = [
    { head: "band" },
    ...found.loadings.slice(0, found.n_components).map((_, i) => ({
      head: `${isNoise ? "mnf" : "pc"}${i + 1}`,
      end: true,
    })),
  ];
  const rows = found.roles.map((role, j) => ({
    key: role,
    cells: [
      role,
      ...found.loadings
        .slice(0, found.n_components)
        .map((weights) => formatLoading(weights[j] ?? 0, isNoise)),
    ],
  }));
  return (
    <>
      <Part title={isNoise ? "Variance over noise" : "Variance explained"}>
        <ScreeStrip
          values={isNoise ? found.eigenvalues : found.eigenvalues.map((v) => (100 * v) / total)}
          n={found.n_components}
          unit={isNoise ? "×" : "%"}
          label={isNoise ? "Variance over noise of each component" : "Variance of each component"}
        />
      </Part>
      <Part title="Loadings">
        <DataTable label="Loadings" columns={columns} rows={rows} />
        <Text color="quiet">From {formatCount(found.n_pixels)} pixels.</Text>
      </Part>
    </>
  );
}

function formatLoading(value: number, isNoise: boolean): string {
  return isNoise ? value.toFixed(1) : formatDigits(value);
}
