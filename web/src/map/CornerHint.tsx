import { PaneHint } from "./PaneHint";

/** What the next click will do, and how not to. */
export function CornerHint({ circle = false }: { readonly circle?: boolean }) {
  const next = circle ? "Click where the circle shall end" : "Click the opposite corner";
  return <PaneHint at="top">{next}; Esc gives it up.</PaneHint>;
}
