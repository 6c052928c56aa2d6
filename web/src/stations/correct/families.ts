import type { Scene, Step } from "../../api/types";

interface Family {
  readonly id: NonNullable<Step["family"]>;
  readonly short: string;
  readonly title: string;
}

/** Steps that do the same kind of thing, as columns of the table of dates. */
export const FAMILIES: readonly Family[] = [
  { id: "values", short: "refl", title: "Reflectance" },
  { id: "haze", short: "haze", title: "Haze out" },
  { id: "mask", short: "mask", title: "Masked" },
  { id: "place", short: "grid", title: "Moved, cropped or on another grid" },
  { id: "norm", short: "norm", title: "Normalised to another date" },
];

/** What a scene has had done to it, by itself and by the scenes it is made of. */
export function familiesOf(scene: Scene, all: readonly Scene[]): ReadonlySet<Step["family"]> {
  const had = new Set<Step["family"]>();
  const seen = new Set<number>();
  const look = (one: Scene) => {
    if (seen.has(one.id)) return;
    seen.add(one.id);
    for (const { family } of one.steps) had.add(family);
    if (one.origin === "delivered" && one.quantity === "reflectance") had.add("values");
    for (const parent of all) if (one.made_of.includes(parent.id)) look(parent);
  };
  look(scene);
  return had;
}
