import type { StoreApi } from "zustand";

import type { StepOrder } from "../api/types";

export interface ChainStep extends StepOrder {
  key: number;
}

/** A chain of steps in hand; it outlives a look at another station. */
export interface ChainOfSteps {
  steps: readonly ChainStep[];
  add: (operation: string) => void;
  change: (key: number, settings: Record<string, unknown>) => void;
  replace: (key: number, operation: string) => void;
  remove: (key: number) => void;
  clear: () => void;
  /** Another chain in its place. */
  take: (steps: readonly StepOrder[]) => void;
}

let made = 0;

/** The part of a store that holds a chain. */
export function chainOfSteps(set: StoreApi<Pick<ChainOfSteps, "steps">>["setState"]): ChainOfSteps {
  const each = (key: number, change: (step: ChainStep) => ChainStep) =>
    set(({ steps }) => ({ steps: steps.map((step) => (step.key === key ? change(step) : step)) }));
  return {
    steps: [],
    add: (operation) =>
      set(({ steps }) => ({ steps: [...steps, { key: ++made, operation, settings: {} }] })),
    change: (key, settings) => each(key, (step) => ({ ...step, settings })),
    replace: (key, operation) => each(key, () => ({ key, operation, settings: {} })),
    remove: (key) => set(({ steps }) => ({ steps: steps.filter((step) => step.key !== key) })),
    clear: () => set({ steps: [] }),
    take: (steps) => set({ steps: steps.map((step) => ({ ...step, key: ++made })) }),
  };
}
