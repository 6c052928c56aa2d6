import type { Ellipse } from "../../api/types";

const CORNERS = 48;

/** The ellipse as a ring of values. */
export function ringOf({ x, y, long, short, angle_deg }: Ellipse): [number, number][] {
  const turn = (angle_deg * Math.PI) / 180;
  return Array.from({ length: CORNERS }, (_, i) => {
    const at = (2 * Math.PI * i) / CORNERS;
    const along = long * Math.cos(at);
    const across = short * Math.sin(at);
    return [
      x + along * Math.cos(turn) - across * Math.sin(turn),
      y + along * Math.sin(turn) + across * Math.cos(turn),
    ];
  });
}
