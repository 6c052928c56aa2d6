import { create } from "zustand";

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

/** Outlines that the server does not have yet; they outlive a reload and a server that is down, and
 * are seen in every window. Each stands under a name of its own, so that no window writes over
 * another's. */
export const useUnsavedSites = create<UnsavedStore>()((set, get) => {
  const keep = (site: UnsavedSite) => {
    set(({ sites }) => ({ sites: [...sites.filter((s) => s.key !== site.key), site] }));
    write(site);
  };
  return {
    sites: keptOutlines(),
    add: keep,
    fail: (key, problem) => {
      const site = get().sites.find((s) => s.key === key);
      if (site) keep({ ...site, problem });
    },
    remove: (key) => {
      localStorage.removeItem(nameOf(key));
      set(({ sites }) => ({ sites: sites.filter((s) => s.key !== key) }));
    },
  };
});

// What another window keeps, or has handed over, is so here, too.
addEventListener("storage", () => useUnsavedSites.setState({ sites: keptOutlines() }));

function nameOf(key: string): string {
  return `${NAME}:${key}`;
}

function write(site: UnsavedSite): void {
  try {
    localStorage.setItem(nameOf(site.key), JSON.stringify(site));
  } catch {
    // A browser that can keep no more must not hold the outline back from the server.
  }
}

function read(name: string): unknown {
  try {
    return JSON.parse(localStorage.getItem(name) ?? "null");
  } catch {
    return null; // what is no outline any more is no reason to show nothing
  }
}

function keptOutlines(): UnsavedSite[] {
  takeOver();
  return Object.keys(localStorage)
    .filter((name) => name.startsWith(nameOf("")))
    .sort()
    .flatMap((name) => (read(name) as UnsavedSite | null) ?? []);
}

/** What was kept before outlines had names of their own. */
function takeOver(): void {
  const old = read(NAME) as { state: { sites: UnsavedSite[] } } | null;
  old?.state.sites.forEach(write);
  localStorage.removeItem(NAME);
}
