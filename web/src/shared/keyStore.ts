import { create } from "zustand";
import { persist } from "zustand/middleware";

interface KeyStore {
  /** Whether a letter or a number alone does something. */
  single: boolean;
  setSingle: (single: boolean) => void;
}

/** Who speaks to the machine, or hits keys by mistake, can switch single keys off (WCAG 2.1.4). */
export const useKeyStore = create<KeyStore>()(
  persist((set) => ({ single: true, setSingle: (single) => set({ single }) }), {
    name: "kitesort-keys",
  }),
);

/** A key that writes a character, pressed alone, while such keys are switched off. */
export function isSwitchedOff({ key, ctrlKey, metaKey }: KeyboardEvent): boolean {
  return !useKeyStore.getState().single && key.length === 1 && !ctrlKey && !metaKey;
}
