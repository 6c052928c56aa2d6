import { Box } from "@chakra-ui/react";
import type { KeyboardEvent, PointerEvent } from "react";

import { clampHeight } from "../shared/openView";
import { READOUT_HEIGHTS } from "../shared/view";
import { useView, useViewStore } from "../shared/viewStore";

const STEP = 12;

/** The upper edge of the readout: dragged, or moved by arrow keys. */
export function HeightHandle() {
  const { readoutHeight } = useView("readoutHeight");
  const change = useViewStore((store) => store.change);
  const set = (height: number) => change({ readoutHeight: clampHeight(height) });
  const drag = (event: PointerEvent) => {
    if (event.buttons === 1) set(readoutHeight - event.movementY);
  };
  const key = (event: KeyboardEvent) => {
    const by = { ArrowUp: STEP, ArrowDown: -STEP }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    set(readoutHeight + by);
  };
  return (
    <Box
      role="separator"
      tabIndex={0}
      aria-orientation="horizontal"
      aria-label="Height of the readout"
      aria-valuemin={READOUT_HEIGHTS.least}
      aria-valuemax={READOUT_HEIGHTS.most}
      aria-valuenow={readoutHeight}
      height="5px"
      mt="-2px"
      cursor="ns-resize"
      touchAction="none"
      position="relative"
      zIndex={1}
      _hover={{ bg: "cool" }}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={drag}
      onKeyDown={key}
    />
  );
}
