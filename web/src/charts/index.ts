import { lazy } from "react";

export { type Axis, type AxisMark, type Curve, curvesToCsv, type Interval } from "./curves";
export { DensityPlot, type DensityShape } from "./DensityPlot";
export type { Frame as DensityFrame } from "./frame";
export { type Bins, HistogramStrip } from "./HistogramStrip";
export { ALL, type Ranges } from "./ranges";

/** The chart library is only loaded when the first chart is drawn. */
export const CurveChart = lazy(() => import("./CurveChart"));
