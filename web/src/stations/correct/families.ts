import type { Scene } from "../../api/types";

export interface Family {
  id: string;
  short: string;
  title: string;
  operations: readonly string[];
}

/** Steps that do the same kind of thing, as columns of the table of dates. */
export const FAMILIES: readonly Family[] = [
  { id: "values", short: "refl", title: "Reflectance", operations: ["convert", "scale"] },
  { id: "haze", short: "haze", title: "Haze out", operations: ["dark-object"] },
  {
    id: "mask",
    short: "mask",
    title: "Masked",
    operations: ["mask-quality", "mask-areas", "mask-like", "mask-range", "mask-cloud"],
  },
  {
    id: "place",
    short: "grid",
    title: "Moved, cropped or on another grid",
    operations: ["move", "regrid", "assign-crs", "crop"],
  },
  {
    id: "norm",
    short: "norm",
    title: "Normalised to another date",
    operations: ["match-histogram", "regress"],
  },
];

/** What a scene has had done to it, by itself and by the scenes it is made of. */
export function familiesOf(scene: Scene, all: readonly Scene[]): Set<string> {
  const had = new Set<string>();
  const seen = new Set<number>();
  const look = (one: Scene) => {
    if (seen.has(one.id)) return;
    seen.add(one.id);
    for (const { operation } of one.steps) {
      const family = FAMILIES.find((f) => f.operations.includes(operation));
      if (family) had.add(family.id);
    }
    if (one.origin === "delivered" && one.quantity === "reflectance") had.add("values");
    for (const parent of all) if (one.made_of.includes(parent.id)) look(parent);
  };
  look(scene);
  return had;
}
