import { create } from "zustand";
import { persist } from "zustand/middleware";

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

/** Outlines that the server does not have yet; they outlive a reload and a server that is down. */
export const useUnsavedSites = create<UnsavedStore>()(
  persist(
    (set) => ({
      sites: [],
      add: (site) =>
        set(({ sites }) => ({ sites: [...sites.filter((s) => s.key !== site.key), site] })),
      fail: (key, problem) =>
        set(({ sites }) => ({ sites: sites.map((s) => (s.key === key ? { ...s, problem } : s)) })),
      remove: (key) => set(({ sites }) => ({ sites: sites.filter((s) => s.key !== key) })),
    }),
    { name: "kitesort-unsaved-sites" },
  ),
);
