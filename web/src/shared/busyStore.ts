import { useEffect, useId } from "react";
import { create } from "zustand";

interface BusyStore {
  /** What is on its way besides requests: tiles, movements, pauses before asking or storing. */
  busy: ReadonlySet<string>;
}

export const useBusyStore = create<BusyStore>(() => ({ busy: new Set() }));

/** Say of something, by its own name, whether it is on its way. */
export function tellBusy(name: string, on: boolean): void {
  useBusyStore.setState(({ busy }) => {
    if (busy.has(name) === on) return {};
    const next = new Set(busy);
    if (on) next.add(name);
    else next.delete(name);
    return { busy: next };
  });
}

/** As long as a component says so, and no longer than it is there. */
export function useBusy(on: boolean): void {
  const name = useId();
  useEffect(() => {
    tellBusy(name, on);
    return () => tellBusy(name, false);
  }, [name, on]);
}
