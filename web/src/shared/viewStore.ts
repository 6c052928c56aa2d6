import { create } from "zustand";

import type { PaneShow, View } from "./view";

interface ViewStore {
  view: View | null;
  open: (view: View | null) => void;
  change: (part: Partial<View>) => void;
  setPane: (index: 0 | 1, show: PaneShow) => void;
}

/** The open study's view. The browser owns it while the study is open; the server remembers it. */
export const useViewStore = create<ViewStore>((set) => ({
  view: null,
  open: (view) => set({ view }),
  change: (part) => set(({ view }) => ({ view: view && { ...view, ...part } })),
  setPane: (index, show) =>
    set(({ view }) => {
      if (!view) return {};
      const [left, right] = view.panes;
      return { view: { ...view, panes: index === 0 ? [show, right] : [left, show] } };
    }),
}));

/** The view of a study that is open for sure. */
export function useView(): View {
  const view = useViewStore((store) => store.view);
  if (!view) throw new Error("No view is open.");
  return view;
}
