import type { PaneIndex, SceneShow, Stretch } from "../shared/view";
import { useSetPane } from "../shared/viewStore";

interface Changes {
  change: (part: Partial<SceneShow>) => void;
  stretch: (part: Partial<Stretch>) => void;
  put: (show: SceneShow) => void;
}

/** Change a part of how a pane shows its scene. */
export function useChangeShow(index: PaneIndex, show: SceneShow): Changes {
  const setPane = useSetPane();
  const put = (next: SceneShow) => setPane(index, next);
  const change = (part: Partial<SceneShow>) => put({ ...show, ...part });
  return { put, change, stretch: (part) => change({ stretch: { ...show.stretch, ...part } }) };
}
