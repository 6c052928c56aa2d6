import { chakra } from "@chakra-ui/react";
import { type ReactNode, useState } from "react";

import { useStatistics } from "../../api/queries/scenes";
import type { Scene } from "../../api/types";
import { DataTable } from "../../shared/DataTable";
import { formatLength, formatValue } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { useWork } from "../../shared/workStore";

const Details = chakra("details", { base: { mt: "1" } });
const Summary = chakra("summary", { base: { cursor: "pointer", color: "quiet" } });

const columnsOf = (unit: string) => [
  { head: "#", end: true },
  { head: "Role" },
  { head: "µm", end: true },
  { head: `Pixel, ${unit}`, end: true },
  { head: "Range", end: true },
];

interface Props {
  readonly scene: Scene;
  readonly children: ReactNode;
}

/** Position, role, wavelength, pixel and range at a glance; the whole sheet is a step away. */
export function SceneFacts({ scene, children }: Props) {
  const [open, setOpen] = useState(false);
  const set = useWork((store) => store.set);
  const { data: statistics } = useStatistics(scene.id, open);
  const byRole = new Map(statistics?.bands.map((band) => [band.role, band]));
  const rows = scene.bands.map(({ role, wavelength_um, pixel_size }, i) => {
    const found = byRole.get(role);
    return {
      key: role,
      cells: [
        i + 1,
        role,
        wavelength_um?.toFixed(3) ?? "–",
        formatLength(pixel_size),
        found ? `${formatValue(found.minimum)} to ${formatValue(found.maximum)}` : "…",
      ],
    };
  });
  return (
    <Details onToggle={(event) => setOpen(event.currentTarget.open)}>
      <Summary>{scene.bands.length} bands, facts and acts</Summary>
      {open && (
        <>
          <DataTable
            label={`Bands of ${scene.title}`}
            columns={columnsOf(scene.grid.unit)}
            rows={rows}
          />
          <Quiet
            type="button"
            mt="1"
            onClick={() => set({ sheet: { kind: "facts", sceneId: scene.id } })}
          >
            All facts of this scene
          </Quiet>
          {children}
        </>
      )}
    </Details>
  );
}
