import type { DensityShape } from "./DensityPlot";

/** Where the picture of a density lies in its host, and the way between pixels and values. */
export interface Frame {
  left: number;
  top: number;
  width: number;
  height: number;
  x: readonly [number, number];
  y: readonly [number, number];
  toPixels: (at: readonly [number, number]) => [number, number];
  toValues: (at: [number, number]) => [number, number];
}

const LEFT = 54;
const BOTTOM = 36;
const TOP = 8;
const TITLE = 18;
const RIGHT = 12;

export function frameOf(
  [hostWidth, hostHeight]: readonly [number, number],
  density: Pick<DensityShape, "x" | "y">,
  hasTitle: boolean,
): Frame {
  const x = [density.x.low, density.x.high] as const;
  const y = [density.y.low, density.y.high] as const;
  const top = TOP + (hasTitle ? TITLE : 0);
  const width = Math.max(10, hostWidth - LEFT - RIGHT);
  const height = Math.max(10, hostHeight - top - BOTTOM);
  return {
    left: LEFT,
    top,
    width,
    height,
    x,
    y,
    toPixels: ([a, b]) => [
      ((a - x[0]) / (x[1] - x[0])) * width,
      height - ((b - y[0]) / (y[1] - y[0])) * height,
    ],
    toValues: ([a, b]) => [
      x[0] + ((a - LEFT) / width) * (x[1] - x[0]),
      y[0] + ((height - (b - top)) / height) * (y[1] - y[0]),
    ],
  };
}
