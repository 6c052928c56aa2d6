import { create } from "zustand";
import { persist, type PersistStorage } from "zustand/middleware";

import type { Outline } from "../map";

export interface UnsavedSite {
  key: string;
  studyId: number;
  classId: number;
  outline: Outline;
  /** Why the server did not take it; null while it is on its way. */
  problem: string | null;
}

interface UnsavedStore {
  sites: UnsavedSite[];
  add: (site: UnsavedSite) => void;
  fail: (key: string, problem: string) => void;
  remove: (key: string) => void;
}

const NAME = "kitesort-unsaved-sites";

/** Each outline is kept under a name of its own, so that no window writes over another's. */
const oneByOne: PersistStorage<Pick<UnsavedStore, "sites">> = {
  getItem: () => ({ state: { sites: keptOutlines() } }),
  setItem: (_, { state: { sites } }) => {
    for (const site of sites) localStorage.setItem(`${NAME}:${site.key}`, JSON.stringify(site));
  },
  removeItem: () => undefined,
};

function keptOutlines(): UnsavedSite[] {
  return Object.keys(localStorage)
    .filter((name) => name.startsWith(`${NAME}:`))
    .sort()
    .flatMap((name) => {
      const text = localStorage.getItem(name);
      return text === null ? [] : [JSON.parse(text) as UnsavedSite];
    });
}

/** Outlines that the server does not have yet; they outlive a reload and a server that is down, and
 * are seen in every window. */
export const useUnsavedSites = create<UnsavedStore>()(
  persist(
    (set) => ({
      sites: [],
      add: (site) =>
        set(({ sites }) => ({ sites: [...sites.filter((s) => s.key !== site.key), site] })),
      fail: (key, problem) =>
        set(({ sites }) => ({ sites: sites.map((s) => (s.key === key ? { ...s, problem } : s)) })),
      remove: (key) => {
        localStorage.removeItem(`${NAME}:${key}`);
        set(({ sites }) => ({ sites: sites.filter((s) => s.key !== key) }));
      },
    }),
    { name: NAME, storage: oneByOne, partialize: ({ sites }) => ({ sites }) },
  ),
);

// What another window keeps, or has handed over, is so here, too.
addEventListener("storage", ({ key }) => {
  if (key === null || key.startsWith(`${NAME}:`)) {
    useUnsavedSites.setState({ sites: keptOutlines() });
  }
});
