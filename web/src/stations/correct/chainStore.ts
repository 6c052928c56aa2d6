import type { StepOrder } from "../../api/types";
import { createForStudy } from "../../shared/studyStore";

export interface ChainStep extends StepOrder {
  key: number;
}

interface ChainStore {
  /** Scenes and class maps that the steps are done to. */
  layerIds: readonly number[];
  steps: readonly ChainStep[];
  toggle: (layerId: number) => void;
  choose: (layerIds: readonly number[]) => void;
  add: (operation: string) => void;
  change: (key: number, settings: Record<string, unknown>) => void;
  replace: (key: number, operation: string) => void;
  remove: (key: number) => void;
  clear: () => void;
}

let made = 0;

/** The chain of steps in hand and the layers it is for; it outlives a look at another station. */
export const useChain = createForStudy<ChainStore>((set) => ({
  layerIds: [],
  steps: [],
  toggle: (id) =>
    set(({ layerIds }) => ({
      layerIds: layerIds.includes(id) ? layerIds.filter((s) => s !== id) : [...layerIds, id],
    })),
  choose: (layerIds) => set({ layerIds }),
  add: (operation) =>
    set(({ steps }) => ({ steps: [...steps, { key: ++made, operation, settings: {} }] })),
  change: (key, settings) =>
    set(({ steps }) => ({
      steps: steps.map((step) => (step.key === key ? { ...step, settings } : step)),
    })),
  replace: (key, operation) =>
    set(({ steps }) => ({
      steps: steps.map((step) => (step.key === key ? { key, operation, settings: {} } : step)),
    })),
  remove: (key) => set(({ steps }) => ({ steps: steps.filter((step) => step.key !== key) })),
  clear: () => set({ steps: [] }),
}));
