import { CornerHint } from "./CornerHint";
import type { Coordinate } from "./linkedView";
import { type Outline, outlineOf, type SiteSource } from "./sites";
import { type DrawTool, useDraw } from "./useDraw";
import { useKeyboardSketch } from "./useKeyboardSketch";
import { useReshape } from "./useReshape";

export type SiteTool = "reshape" | DrawTool;

interface Props {
  readonly source: SiteSource;
  /** Null while something else is drawn. */
  readonly tool: SiteTool | null;
  readonly selected: string | null;
  readonly colour: string;
  readonly crosshair: () => Coordinate | null;
  readonly onDrawn: (outline: Outline) => void;
  readonly onSelect: (key: string | null) => void;
  readonly onReshaped: (key: string, outline: Outline) => void;
}

/** The tools with which training sites are drawn and changed on one pane. */
export function SiteTools(props: Props) {
  const { tool, colour, crosshair, onDrawn } = props;
  const drawing = tool === "reshape" ? null : tool;
  const cornerWaits = useDraw(drawing, colour, onDrawn);
  useKeyboardSketch({
    tool: drawing,
    colour,
    crosshair,
    onDrawn: (ring) => onDrawn(outlineOf(ring)),
  });
  useReshape({ ...props, active: tool === "reshape" });
  return cornerWaits ? <CornerHint /> : null;
}
