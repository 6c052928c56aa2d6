import { create, type StateCreator, type StoreApi, type UseBoundStore } from "zustand";

const ends: (() => void)[] = [];

/** A store of what belongs to the open study: it ends with it. */
export function createForStudy<T>(start: StateCreator<T>): UseBoundStore<StoreApi<T>> {
  const store = create<T>()(start);
  ends.push(() => store.setState(store.getInitialState(), true));
  return store;
}

/** Nothing of the study that is left is taken into the next. */
export function endStudy(): void {
  for (const end of ends) end();
}
