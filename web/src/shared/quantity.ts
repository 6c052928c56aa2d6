import type { Band, Scene } from "../api/types";

const QUANTITIES = {
  reflectance: "reflectance",
  radiance: "radiance, W/(m² sr µm)",
  temperature: "temperature, K",
  numbers: "numbers as delivered",
  values: "computed, no unit",
  classes: "class codes",
  mixed: "several quantities",
} as const;

/** What all of a scene's values mean, as an axis title. */
export function quantityWords({ quantity }: Pick<Scene, "quantity">): string {
  return QUANTITIES[quantity];
}

/** What the values of one of its bands mean. */
export function bandQuantityWords(scene: Scene, role: string): string {
  return quantityWords(scene.bands.find((band) => band.role === role) ?? scene);
}

/** Whether a band can be drawn beside the others: a thermal one among reflectances cannot. */
export function isAlike(scene: Scene, band: Band): boolean {
  return scene.quantity === "mixed" || band.quantity === scene.quantity;
}
