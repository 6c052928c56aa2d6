import { CornerHint } from "./CornerHint";
import type { Coordinate } from "./linkedView";
import { type Outline, outlineOf } from "./sites";
import { type DrawTool, useDraw } from "./useDraw";
import { useKeyboardSketch } from "./useKeyboardSketch";

interface Props {
  readonly tool: DrawTool | null;
  readonly colour: string;
  readonly crosshair: () => Coordinate | null;
  readonly onDrawn: (outline: Outline) => void;
}

/** Draw an outline that is no training site, with the pointer or with the keyboard. */
export function AreaTools({ tool, colour, crosshair, onDrawn }: Props) {
  const cornerWaits = useDraw(tool, colour, onDrawn);
  useKeyboardSketch({ tool, colour, crosshair, onDrawn: (ring) => onDrawn(outlineOf(ring)) });
  return cornerWaits ? <CornerHint /> : null;
}
