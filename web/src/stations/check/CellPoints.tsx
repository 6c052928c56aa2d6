import { Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Accuracy } from "../../api/types";
import { centreOn } from "../../map";
import { moveCrosshair } from "../../shared/pointerStore";
import { Quiet } from "../../shared/Quiet";
import { Remark } from "../../shared/Remark";
import { useWork } from "../../shared/workStore";
import type { Cell } from "./AccuracyReport";

interface Props {
  readonly points: Accuracy["points"];
  readonly accuracy: Accuracy;
  readonly cell: Cell;
}

/** Walk through the points behind a cell, each centred in the panes. */
export function CellPoints({ points, accuracy, cell }: Props) {
  const [at, setAt] = useState(-1);
  const linked = useWork((store) => store.linked);
  const set = useWork((store) => store.set);
  const name = (code: number) => accuracy.names[accuracy.codes.indexOf(code)] ?? "";
  const go = (next: number) => {
    const point = points[(next + points.length) % points.length];
    if (!point || !linked) return;
    setAt((next + points.length) % points.length);
    centreOn(linked, [point.x, point.y], linked.grid.pixel_size);
    moveCrosshair([point.x, point.y]);
    set({ markedPoints: [point.id] });
  };
  return (
    <Remark tone="calm">
      <Text>
        {points.length} mapped <b>{name(cell.mapped)}</b>, on the ground{" "}
        <b>{name(cell.reference)}</b>.
      </Text>
      <Flex gap="3" mt="1">
        <Quiet type="button" onClick={() => go(at < 0 ? points.length - 1 : at - 1)}>
          Previous
        </Quiet>
        <Quiet type="button" onClick={() => go(at + 1)}>
          Next
        </Quiet>
        <Text color="quiet">{at >= 0 && `${at + 1} of ${points.length}`}</Text>
      </Flex>
    </Remark>
  );
}
