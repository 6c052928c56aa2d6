import type { KeyboardEvent, PointerEvent } from "react";

import type { PaneIndex } from "../shared/view";
import { useWork } from "../shared/workStore";

const STEP = 0.02;

/** The edge between a pane's layer and the one beneath it: dragged, or moved by arrow keys. */
export function PaneEdge({ index }: { readonly index: PaneIndex }) {
  const edge = useWork((store) => store.edge);
  const set = useWork((store) => store.set);
  if (edge?.pane !== index) return null;
  const move = (share: number) =>
    set({ edge: { pane: index, share: Math.min(1, Math.max(0, share)) } });
  const drag = (event: PointerEvent<HTMLDivElement>) => {
    const frame = event.currentTarget.parentElement?.getBoundingClientRect();
    if (frame && event.buttons === 1) move((event.clientX - frame.left) / frame.width);
  };
  const key = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -STEP, ArrowRight: STEP }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    move(edge.share + by);
  };
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="Edge between the layer and the one beneath"
      aria-orientation="horizontal"
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(100 * edge.share)}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={drag}
      onKeyDown={key}
      style={{
        position: "absolute",
        top: 0,
        bottom: 0,
        left: `calc(${100 * edge.share}% - 7px)`,
        width: 14,
        cursor: "ew-resize",
        touchAction: "none",
        background:
          "linear-gradient(to right, transparent 5px, #1C2A35 5px 6px, #fff 6px 8px, #1C2A35 8px 9px, transparent 9px)",
      }}
    />
  );
}
