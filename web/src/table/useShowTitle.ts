import { useLayerList } from "../shared/useLayerList";
import type { PaneShow } from "../shared/view";

/** What something that a pane shows is called. */
export function useShowTitle(show: PaneShow): string {
  const groups = useLayerList();
  const entry = groups.flatMap(({ entries }) => entries).find((one) => one.isShownBy(show));
  return entry?.title ?? "Something that was removed";
}
