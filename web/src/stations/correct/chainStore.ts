import type { StepOrder } from "../../api/types";
import { createForStudy } from "../../shared/studyStore";

export interface ChainStep extends StepOrder {
  key: number;
}

interface ChainStore {
  /** Scenes that the steps are done to. */
  sceneIds: readonly number[];
  steps: readonly ChainStep[];
  toggle: (sceneId: number) => void;
  choose: (sceneIds: readonly number[]) => void;
  add: (operation: string) => void;
  change: (key: number, settings: Record<string, unknown>) => void;
  replace: (key: number, operation: string) => void;
  remove: (key: number) => void;
  clear: () => void;
}

let made = 0;

/** The chain of steps in hand and the scenes it is for; it outlives a look at another station. */
export const useChain = createForStudy<ChainStore>((set) => ({
  sceneIds: [],
  steps: [],
  toggle: (id) =>
    set(({ sceneIds }) => ({
      sceneIds: sceneIds.includes(id) ? sceneIds.filter((s) => s !== id) : [...sceneIds, id],
    })),
  choose: (sceneIds) => set({ sceneIds }),
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
