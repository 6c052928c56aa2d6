import { PaneHint } from "./PaneHint";

/** What the next click will do, and how not to. */
export function CornerHint() {
  return <PaneHint at="top">Click the opposite corner; Esc gives it up.</PaneHint>;
}
