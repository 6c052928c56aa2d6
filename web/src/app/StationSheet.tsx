import { lazy, Suspense } from "react";

import type { Sheet } from "../shared/workStore";
import { ScenesSheet } from "../stations/scenes";

const TrainSheet = lazy(() => import("../stations/train").then((m) => ({ default: m.TrainSheet })));
const ClassifySheet = lazy(() =>
  import("../stations/classify").then((m) => ({ default: m.ClassifySheet })),
);

/** The sheet of a station that stands in the place of the panes. */
export function StationSheet({ sheet }: { readonly sheet: Sheet }) {
  switch (sheet.kind) {
    case "ground":
    case "scheme":
      return (
        <Suspense fallback={null}>
          <TrainSheet sheet={sheet} />
        </Suspense>
      );
    case "methods":
    case "layers":
    case "trained":
    case "compare":
      return (
        <Suspense fallback={null}>
          <ClassifySheet sheet={sheet} />
        </Suspense>
      );
    default:
      return <ScenesSheet sheet={sheet} />;
  }
}
