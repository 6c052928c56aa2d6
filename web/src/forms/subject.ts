import { createContext, useContext } from "react";

import type { ClassMap, Scene } from "../api/types";

/** What a form is about: scenes that can be named in it, and those that its settings are for. */
export interface Subject {
  scenes: readonly Scene[];
  chosen: readonly Scene[];
  /** The map that its settings are for. */
  map?: ClassMap;
}

export const FormSubject = createContext<Subject>({ scenes: [], chosen: [] });

export function useFormSubject(): Subject {
  return useContext(FormSubject);
}

/** The scene that the settings are for, where they are for one. */
export function useFormScene(): Scene {
  const { scenes, chosen } = useFormSubject();
  const scene = chosen[0] ?? scenes[0];
  if (!scene) throw new Error("a form stands in a study that has a scene");
  return scene;
}

/** The classes of the map that the settings are for. */
export function useLegend(): ClassMap["legend"] {
  return useFormSubject().map?.legend ?? [];
}
