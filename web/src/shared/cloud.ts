import { memberOf } from "./member";
import type { Cloud } from "./workStore";

/** Corners as the server reads them: no more digits than a value of the imagery has. */
export function cloudText(corners: Cloud["corners"]): string {
  return corners.map((corner) => corner.map((v) => v.toPrecision(6)).join(" ")).join(", ");
}

/** The scene and the two roles of a cloud; null where its axes are of two scenes, or alike. */
export function sceneOfCloud(cloud: Cloud): { id: number; across: string; up: string } | null {
  const [x, y] = [memberOf(cloud.x), memberOf(cloud.y)];
  if (x.sceneId !== y.sceneId || x.role === y.role) return null;
  return { id: x.sceneId, across: x.role, up: y.role };
}
