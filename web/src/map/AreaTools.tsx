import { CornerHint } from "./CornerHint";
import type { Coordinate } from "./linkedView";
import type { Outline } from "./sites";
import { useBrush } from "./useBrush";
import type { AreaTool } from "./useDraw";
import { useOutline } from "./useOutline";

interface Props {
  readonly tool: AreaTool | null;
  readonly colour: string;
  /** Side of a pixel in the units of the map. */
  readonly pixel: number;
  readonly crosshair: () => Coordinate | null;
  readonly onDrawn: (outline: Outline) => void;
  readonly onPainted: (places: Coordinate[], on: boolean) => void;
}

/** Draw an outline that is no training site, or paint pixels, with the pointer or the keyboard. */
export function AreaTools(props: Props) {
  const { tool } = props;
  const cornerWaits = useOutline({ ...props, tool: tool === "brush" ? null : tool });
  useBrush({ ...props, active: tool === "brush" });
  return cornerWaits ? <CornerHint /> : null;
}
