import { usePreviewStore } from "../shared/previewStore";
import { useLayerList } from "../shared/useLayerList";
import type { PaneShow } from "../shared/view";

/** What something that a pane shows is called. */
export function useShowTitle(show: PaneShow): string {
  const groups = useLayerList();
  const preview = usePreviewStore((store) => store.preview);
  if (show.kind === "live" && show.method) return "Another method beside it";
  if (show.kind === "breaks") return "Class breaks";
  if (show.kind === "tidied") return "Tidied, preview";
  if (show.kind === "scene" && show.sceneId === preview?.scene?.id)
    return `${preview.scene.title}, preview`;
  const entry = groups.flatMap(({ entries }) => entries).find((one) => one.isShownBy(show));
  return entry?.title ?? "Something that was removed";
}
