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
    .flatMap((name) => (read(name) as UnsavedSite | null) ?? []);
}

function read(name: string): unknown {
  try {
    return JSON.parse(localStorage.getItem(name) ?? "null");
  } catch {
    return null; // what is no outline any more is no reason to show nothing
  }
}

/** What was kept before outlines had names of their own. */
function takeOver(): void {
  const old = read(NAME) as { state: { sites: UnsavedSite[] } } | null;
  if (!old) return;
  oneByOne.setItem(NAME, old);
  localStorage.removeItem(NAME);
}

takeOver();

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
