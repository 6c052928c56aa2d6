import type { Scene } from "../api/types";
import type { PaneIndex, PaneShow } from "./view";
import { createForStudy } from "./studyStore";

/** Something that is being made, in the place of what a pane shows, until it is made or left. */
export interface Preview {
  pane: PaneIndex;
  show: PaneShow;
  /** The layer behind it, which is in no list yet. */
  scene: Scene | null;
}

interface PreviewStore {
  preview: Preview | null;
  set: (preview: Preview | null) => void;
}

/** Gone after a reload: what is previewed is not kept. */
export const usePreviewStore = createForStudy<PreviewStore>((set) => ({
  preview: null,
  set: (preview) => set({ preview }),
}));
