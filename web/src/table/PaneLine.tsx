import { LinePlace, LineTools } from "../map";
import { crosshairNow, followLinePlace } from "../shared/pointerStore";
import { useView, useViewStore } from "../shared/viewStore";
import { useWork } from "../shared/workStore";

const COLOUR = "#1F6F94";

/** The line whose values the readout shows: drawn once, its ends moved. */
export function PaneLine() {
  const { line, tab } = useView("line", "tab");
  const change = useViewStore((store) => store.change);
  const drawing = useWork((store) => store.lineTool);
  const set = useWork((store) => store.set);
  if (tab !== "line") return null;
  return (
    <>
      <LineTools
        line={line}
        drawing={drawing}
        colour={COLOUR}
        crosshair={crosshairNow}
        onDrawn={(drawn) => {
          change({ line: drawn });
          set({ lineTool: false });
        }}
      />
      <LinePlace follow={followLinePlace} />
    </>
  );
}
