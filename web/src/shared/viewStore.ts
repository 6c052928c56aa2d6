import { useShallow } from "zustand/react/shallow";

import { usePreviewStore } from "./previewStore";
import type { PaneIndex, Panes, PaneShow, SceneShow, View } from "./view";
import { createForStudy } from "./studyStore";

interface ViewStore {
  view: View | null;
  open: (view: View | null) => void;
  change: (part: Partial<View>) => void;
  setPane: (index: PaneIndex, show: PaneShow) => void;
}

/** The open study's view. The browser owns it while the study is open; the server remembers it. */
export const useViewStore = createForStudy<ViewStore>((set) => ({
  view: null,
  open: (view) => set({ view }),
  change: (part) => set(({ view }) => ({ view: view && { ...view, ...part } })),
  setPane: (index, show) =>
    set(({ view }) => {
      if (!view) return {};
      const panes = view.panes.map((pane, i) => (i === index ? show : pane)) as Panes;
      // What is put right must be seen: a single pane gets a neighbour.
      return { view: { ...view, panes, count: index >= view.count ? 2 : view.count } };
    }),
}));

/** Fields of the view of an open study; what else changes in it draws nothing anew. */
export function useView<Name extends keyof View>(
  ...names: readonly [Name, ...Name[]]
): Pick<View, Name> {
  return useViewStore(
    useShallow(({ view }) => {
      if (!view) throw new Error("No view is open.");
      return Object.fromEntries(names.map((name) => [name, view[name]])) as Pick<View, Name>;
    }),
  );
}

/** What the panes show, a preview in the place of what stands there. */
export function usePanes(): Panes {
  const { panes } = useView("panes");
  const preview = usePreviewStore((store) => store.preview);
  if (!preview) return panes;
  return panes.map((pane, i) => (i === preview.pane ? preview.show : pane)) as Panes;
}

/** Put something into a pane; what is previewed there keeps what was changed about it, and makes
 * room for anything else. */
export function useSetPane(): (index: PaneIndex, show: PaneShow) => void {
  const setPane = useViewStore((store) => store.setPane);
  return (index, show) => {
    const { preview, set } = usePreviewStore.getState();
    if (preview?.pane !== index) {
      setPane(index, show);
    } else if (show.kind === "scene" && show.sceneId === preview.scene?.id) {
      set({ ...preview, show });
    } else {
      set(null);
      setPane(index, show);
    }
  };
}

/** What the panes that are seen show. */
export function useShownPanes(): PaneShow[] {
  const { count } = useView("count");
  return usePanes().slice(0, count);
}

/** The scenes in the panes that are seen, one entry per pane that shows one. */
export function useShownScenes(): SceneShow[] {
  return useShownPanes().filter((pane): pane is SceneShow => pane.kind === "scene");
}
