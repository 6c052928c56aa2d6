import type { ClassMap, Scene } from "../../web/src/api/types";

/** A scene with as much as the logic looks at. */
export function sceneWith(
  id: number,
  roles: readonly string[],
  more: Partial<Scene> = {},
): Scene {
  return {
    id,
    title: `Scene ${id}`,
    bands: roles.map((role) => ({ role })),
    default_roles: [...roles],
    composites: roles.includes("nir")
      ? [
          { id: "true-colour", red: "red", green: "green", blue: "blue" },
          { id: "near-infrared", red: "nir", green: "red", blue: "green" },
        ]
      : [],
    series: null,
    origin: "delivered",
    quantity: "reflectance",
    palette: "grey",
    apart: false,
    made_of: [],
    steps: [],
    ...more,
  } as unknown as Scene;
}

export const ROLES = ["blue", "green", "red", "nir", "swir16"];

export function mapWith(id: number): ClassMap {
  return { id, title: `Map ${id}` } as unknown as ClassMap;
}
