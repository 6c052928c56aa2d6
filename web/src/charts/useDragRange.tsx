import { type PointerEvent, type ReactNode, useState } from "react";

import { ALL, type Ranges, rangesBetween } from "./ranges";

type Place = [number, number];

interface DragRange {
  /** What is dragged out just now. */
  box: ReactNode;
  handlers: {
    onPointerDown: (event: PointerEvent<HTMLElement>) => void;
    onPointerMove: (event: PointerEvent<HTMLElement>) => void;
    onPointerUp: (event: PointerEvent<HTMLElement>) => void;
    onDoubleClick: () => void;
  };
}

const LEAST_PX = 6;

/** Drag over a chart to look closer; a double click shows all of it again. */
export function useDragRange(
  toValues: (at: Place) => Place,
  onRanges: (ranges: Ranges) => void,
): DragRange {
  const [drag, setDrag] = useState<{ from: Place; to: Place } | null>(null);
  const placeOf = (event: PointerEvent<HTMLElement>): Place => {
    const frame = event.currentTarget.getBoundingClientRect();
    return [event.clientX - frame.left, event.clientY - frame.top];
  };
  const finish = () => {
    if (drag && isDrag(drag)) onRanges(rangesBetween(toValues(drag.from), toValues(drag.to)));
    setDrag(null);
  };
  const handlers = {
    onPointerDown: (event: PointerEvent<HTMLElement>) => {
      if (event.button !== 0) return;
      const at = placeOf(event);
      setDrag({ from: at, to: at });
    },
    onPointerMove: (event: PointerEvent<HTMLElement>) => {
      if (drag && event.buttons === 1) setDrag({ from: drag.from, to: placeOf(event) });
      else if (drag) setDrag(null);
    },
    onPointerUp: finish,
    onDoubleClick: () => onRanges(ALL),
  };
  return { box: drag && isDrag(drag) ? <DragBox {...drag} /> : null, handlers };
}

function isDrag({ from, to }: { from: Place; to: Place }): boolean {
  return Math.abs(from[0] - to[0]) > LEAST_PX && Math.abs(from[1] - to[1]) > LEAST_PX;
}

function DragBox({ from, to }: { readonly from: Place; readonly to: Place }) {
  return (
    <div
      aria-hidden
      style={{
        position: "absolute",
        pointerEvents: "none",
        left: Math.min(from[0], to[0]),
        top: Math.min(from[1], to[1]),
        width: Math.abs(from[0] - to[0]),
        height: Math.abs(from[1] - to[1]),
        background: "color-mix(in srgb, var(--chakra-colors-cool) 18%, transparent)",
        border: "1px solid var(--chakra-colors-cool)",
      }}
    />
  );
}
