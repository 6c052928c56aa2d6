import { lazy } from "react";

export {
  type Axis,
  type AxisMark,
  type Curve,
  curvesToCsv,
  type Interval,
  rowsToCsv,
} from "./curves";
export { DensityPlot, type DensityShape } from "./DensityPlot";
export type { Frame as DensityFrame } from "./frame";
export { type Bins, HistogramStrip, type ValueMark } from "./HistogramStrip";
export { ALL, type Ranges } from "./ranges";
export { ScreeStrip } from "./ScreeStrip";

/** The chart library is only loaded when the first chart is drawn. */
export const CurveChart = lazy(() => import("./CurveChart"));
