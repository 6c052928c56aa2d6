import type { Cloud } from "./workStore";

/** Corners as the server reads them: no more digits than a value of the imagery has. */
export function cloudText(corners: Cloud["corners"]): string {
  return corners.map((corner) => corner.map((v) => v.toPrecision(6)).join(" ")).join(", ");
}

/** The scene and the two roles of a cloud; null where its axes are of two scenes, or alike. */
export function sceneOfCloud({ x, y }: Cloud): { id: number; across: string; up: string } | null {
  const [of, across] = memberOf(x);
  const [ofUp, up] = memberOf(y);
  return of === ofUp && across !== up ? { id: of, across, up } : null;
}

function memberOf(key: string): [number, string] {
  const at = key.indexOf(":");
  return [Number(key.slice(0, at)), key.slice(at + 1)];
}
