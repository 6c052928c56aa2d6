import { lazy } from "react";

export { type AxisMark, type Curve, curvesToCsv } from "./curves";

/** The chart library is only loaded when the first chart is drawn. */
export const SpectrumChart = lazy(() => import("./SpectrumChart"));
