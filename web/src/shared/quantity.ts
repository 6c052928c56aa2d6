import type { Scene } from "../api/types";

const QUANTITIES = {
  reflectance: "reflectance",
  radiance: "radiance, W/(m² sr µm)",
  numbers: "numbers as delivered",
  values: "computed, no unit",
} as const;

export function quantityWords(scene: Scene): string {
  return QUANTITIES[scene.quantity];
}
