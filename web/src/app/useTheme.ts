import { useEffect } from "react";
import { create } from "zustand";
import { persist } from "zustand/middleware";

interface ThemeStore {
  /** Null: as the system has it. */
  chosen: boolean | null;
  choose: (dark: boolean) => void;
}

const useThemeStore = create<ThemeStore>()(
  persist((set) => ({ chosen: null, choose: (dark) => set({ chosen: dark }) }), {
    name: "kitesort-theme",
  }),
);

/** Light or dark: chosen here, else as the system has it. */
export function useTheme(): { dark: boolean; setDark: (dark: boolean) => void } {
  const { chosen, choose } = useThemeStore();
  const dark = chosen ?? matchMedia("(prefers-color-scheme: dark)").matches;
  useEffect(() => {
    document.documentElement.classList.toggle("dark", dark);
    document.documentElement.style.colorScheme = dark ? "dark" : "light";
  }, [dark]);
  return { dark, setDark: choose };
}
