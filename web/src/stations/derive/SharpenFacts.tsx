import { Text } from "@chakra-ui/react";

import type { Scene } from "../../api/types";
import { DataTable } from "../../shared/DataTable";
import { formatFixed } from "../../shared/format";
import { Part } from "../../shared/Part";

interface Found {
  roles: string[];
  fine: string[];
  gains: number[];
}

/** How much of the fine bands' detail each band takes. */
export function SharpenFacts({ scene }: { readonly scene: Scene }) {
  const { roles, fine, gains } = scene.steps[0]?.settings as unknown as Found;
  const rows = roles.map((role, i) => ({
    key: role,
    cells: [role, `× ${formatFixed(gains[i] ?? 0, 2)}`],
  }));
  return (
    <Part title="Detail taken">
      <Text color="quiet">From {fine.join(", ")}.</Text>
      <DataTable
        label="Detail taken"
        columns={[{ head: "band" }, { head: "of the detail", end: true }]}
        rows={rows}
      />
    </Part>
  );
}
