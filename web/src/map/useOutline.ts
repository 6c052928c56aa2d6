import type { Coordinate } from "./linkedView";
import { type Outline, outlineOf } from "./sites";
import { type DrawTool, useDraw } from "./useDraw";
import { useKeyboardSketch } from "./useKeyboardSketch";

interface Options {
  readonly tool: DrawTool | null;
  readonly colour: string;
  readonly crosshair: () => Coordinate | null;
  readonly onDrawn: (outline: Outline) => void;
}

/** Draw an outline with the pointer or with the keyboard; whether a corner waits for the next. */
export function useOutline({ tool, colour, crosshair, onDrawn }: Options): boolean {
  useKeyboardSketch({ tool, colour, crosshair, onDrawn: (ring) => onDrawn(outlineOf(ring)) });
  return useDraw(tool, colour, onDrawn);
}
