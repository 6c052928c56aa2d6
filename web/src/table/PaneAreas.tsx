import { useMemo } from "react";

import { AreasLayer, AreaTools, type Outline, type SiteShape } from "../map";
import { crosshairNow } from "../shared/pointerStore";
import { useOverlay } from "../shared/useOverlay";
import { useWork } from "../shared/workStore";
import { usePaintedArea } from "./usePaintedArea";

const COLOUR = "#1F6F94";

/** Areas drawn or read for a correction, and the tool that draws them. */
export function PaneAreas() {
  const areas = useWork((store) => store.areas);
  const areaTool = useWork((store) => store.areaTool);
  const set = useWork((store) => store.set);
  const shapes = useMemo<SiteShape[]>(
    () =>
      areas.map(({ key, name, outline }) => ({
        key,
        version: `${name} ${JSON.stringify(outline)}`,
        outline,
        colour: COLOUR,
        label: name,
        broken: false,
      })),
    [areas],
  );
  const draw = (outline: Outline) => {
    const drawn = areas.length + 1;
    set({
      areas: [...areas, { key: `area:${Date.now()}`, name: `Area ${drawn}`, outline }],
      areaTool: null,
    });
  };
  const { paint, pixel } = usePaintedArea();
  const shown = useOverlay("areas");
  if (!shown && areaTool === null) return null;
  return (
    <>
      <AreasLayer shapes={shapes} />
      <AreaTools
        tool={areaTool}
        colour={COLOUR}
        pixel={pixel}
        crosshair={crosshairNow}
        onDrawn={draw}
        onPainted={paint}
      />
    </>
  );
}
