import { lazy } from "react";

export { type AxisMark, type Curve, curvesToCsv } from "./curves";
export { type Bins, HistogramStrip } from "./HistogramStrip";
export { type TimeCurve, TimeStrip, timeToCsv } from "./TimeStrip";

/** The chart library is only loaded when the first chart is drawn. */
export const SpectrumChart = lazy(() => import("./SpectrumChart"));
