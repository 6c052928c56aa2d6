import { Box, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Accuracy } from "../../api/types";
import { formatPercent, plural } from "../../shared/format";
import { Part } from "../../shared/Part";
import { Remark } from "../../shared/Remark";
import { useViewStore } from "../../shared/viewStore";
import { useWork } from "../../shared/workStore";
import { CellPoints } from "./CellPoints";
import { ClassAccuracy } from "./ClassAccuracy";
import { ErrorMatrix } from "./ErrorMatrix";
import { interval } from "./interval";

interface Props {
  readonly accuracy: Accuracy;
  readonly layerId: number;
}

export interface Cell {
  layerId: number;
  mapped: number;
  reference: number;
}

/** Overall figure first, then the weakest classes, then every count. */
export function AccuracyReport({ accuracy, layerId }: Props) {
  const [chosen, setChosen] = useState<Cell | null>(null);
  const set = useWork((store) => store.set);
  const setPane = useViewStore((store) => store.setPane);
  const cell = chosen?.layerId === layerId ? chosen : null;
  const inCell = accuracy.points.filter(
    (p) => p.mapped_code === cell?.mapped && p.reference_code === cell.reference,
  );
  const choose = (next: Cell) => {
    setChosen(next);
    setPane(1, { kind: "map", layerId }); // the map that is judged, whatever stood there
    set({
      markedPoints: accuracy.points
        .filter((p) => p.mapped_code === next.mapped && p.reference_code === next.reference)
        .map((p) => p.id),
    });
  };
  if (accuracy.n_points === 0) {
    return (
      <Remark tone="caution">No reference point lies on this map; nothing can be said.</Remark>
    );
  }
  return (
    <>
      <Box mt="3">
        <Text fontSize="1.7rem" fontWeight="700" lineHeight="1.1" data-testid="overall">
          {formatPercent(accuracy.overall.value)}
        </Text>
        <Text>
          overall accuracy, {interval(accuracy.overall)} at 95 % confidence, from{" "}
          {plural(accuracy.n_points, "point")}
        </Text>
        <Text color="quiet">
          Kappa {accuracy.kappa === null ? "cannot be computed" : accuracy.kappa.toFixed(3)}; it
          corrects for chance agreement in a way that is much disputed, so read it beside the
          figures per class.
        </Text>
        {accuracy.unknown.length > 0 && (
          <Text color="caution">
            The map does not know {accuracy.unknown.join(", ")}: each of its points counts as an
            error.
          </Text>
        )}
        {accuracy.n_without_map > 0 && (
          <Text color="quiet">
            {plural(accuracy.n_without_map, "point lies", "points lie")} where the map has no data
            and {accuracy.n_without_map === 1 ? "is" : "are"} not counted.
          </Text>
        )}
      </Box>
      <Part title="Per class, weakest first">
        <ClassAccuracy accuracy={accuracy} />
      </Part>
      <Part title="Error matrix" aside="rows: map, columns: ground">
        <ErrorMatrix accuracy={accuracy} layerId={layerId} cell={cell} onChoose={choose} />
      </Part>
      {cell && <CellPoints points={inCell} accuracy={accuracy} cell={cell} />}
    </>
  );
}
