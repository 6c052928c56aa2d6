import { type PointerEvent, type ReactNode, useState } from "react";

type Place = [number, number];

interface Lasso {
  line: ReactNode;
  handlers: {
    onPointerDown: (event: PointerEvent<HTMLElement>) => void;
    onPointerMove: (event: PointerEvent<HTMLElement>) => void;
    onPointerUp: () => void;
  };
}

const STEP_PX = 4;
const MOST_CORNERS = 300;

/** Circle something with a dragged pointer. */
export function useLasso(
  toValues: (at: Place) => Place,
  onCircled: (corners: Place[]) => void,
): Lasso {
  const [corners, setCorners] = useState<Place[]>([]);
  const placeOf = (event: PointerEvent<HTMLElement>): Place => {
    const frame = event.currentTarget.getBoundingClientRect();
    return [event.clientX - frame.left, event.clientY - frame.top];
  };
  const handlers = {
    onPointerDown: (event: PointerEvent<HTMLElement>) => {
      event.currentTarget.setPointerCapture(event.pointerId);
      setCorners([placeOf(event)]);
    },
    onPointerMove: (event: PointerEvent<HTMLElement>) => {
      const last = corners.at(-1);
      const at = placeOf(event);
      const isFar = last && Math.hypot(at[0] - last[0], at[1] - last[1]) >= STEP_PX;
      if (isFar && corners.length < MOST_CORNERS) setCorners([...corners, at]);
    },
    onPointerUp: () => {
      if (corners.length >= 3) onCircled(corners.map(toValues));
      setCorners([]);
    },
  };
  const line = corners.length > 1 && (
    <polygon
      points={corners.map((c) => c.join(" ")).join(",")}
      fill="var(--chakra-colors-cool)"
      fillOpacity={0.15}
      stroke="var(--chakra-colors-cool)"
      strokeWidth={1.5}
    />
  );
  return { line, handlers };
}
