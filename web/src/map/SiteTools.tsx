import { CornerHint } from "./CornerHint";
import { LineTools } from "./LineTools";
import type { Coordinate } from "./linkedView";
import type { Outline, SiteSource } from "./sites";
import { useBrush } from "./useBrush";
import type { DrawTool } from "./useDraw";
import { useOutline } from "./useOutline";
import { useReshape } from "./useReshape";
import { useSeed } from "./useSeed";

const DRAW_TOOLS: readonly string[] = ["outline", "rectangle", "circle"] satisfies DrawTool[];

export type SiteTool = "reshape" | DrawTool | "grow" | "brush" | "cut";

interface Props {
  readonly source: SiteSource;
  /** Null while something else is drawn. */
  readonly tool: SiteTool | null;
  readonly selected: string | null;
  readonly colour: string;
  /** Side of a pixel in the units of the map. */
  readonly pixel: number;
  readonly crosshair: () => Coordinate | null;
  readonly onDrawn: (outline: Outline) => void;
  readonly onSelect: (key: string | null) => void;
  readonly onReshaped: (key: string, outline: Outline) => void;
  readonly onSeed: (at: Coordinate) => void;
  readonly onPainted: (places: Coordinate[], on: boolean) => void;
  readonly onCut: (line: Coordinate[]) => void;
}

/** The tools with which training sites are drawn and changed on one pane. */
export function SiteTools(props: Props) {
  const { tool, colour, crosshair } = props;
  const drawing = isDrawing(tool) ? tool : null;
  const cornerWaits = useOutline({ ...props, tool: drawing });
  useReshape({ ...props, active: tool === "reshape" });
  useBrush({ ...props, active: tool === "brush" });
  useSeed(tool === "grow", crosshair, props.onSeed);
  return (
    <>
      {cornerWaits && <CornerHint circle={drawing === "circle"} />}
      {tool === "cut" && (
        <LineTools
          line={null}
          drawing
          colour={colour}
          crosshair={crosshair}
          onDrawn={props.onCut}
        />
      )}
    </>
  );
}

function isDrawing(tool: SiteTool | null): tool is DrawTool {
  return tool !== null && DRAW_TOOLS.includes(tool);
}
