import type { Scene } from "../../api/types";

export interface StackedBand {
  scene_id: number;
  role: string;
  name: string;
}

/** Of each date of a scene's year one scene like it (same grid, same quantity): itself, else the
 * newest; the earliest date first. */
export function datesOfYear(scene: Scene, scenes: readonly Scene[]): Scene[] {
  const year = scene.acquired?.slice(0, 4);
  if (year === undefined) return [];
  const byDate = new Map<string, Scene>();
  for (const one of [...scenes].sort((a, b) => a.id - b.id)) {
    if (one.acquired?.slice(0, 4) === year && isAlike(one, scene)) byDate.set(one.acquired, one);
  }
  if (scene.acquired !== null) byDate.set(scene.acquired, scene);
  return [...byDate.keys()].sort().flatMap((date) => byDate.get(date) ?? []);
}

function isAlike(one: Scene, other: Scene): boolean {
  return (
    one.series === null &&
    one.origin !== "derived" &&
    one.quantity === other.quantity &&
    JSON.stringify(one.grid) === JSON.stringify(other.grid)
  );
}

/** The bands of all dates, called by role and by month and day. */
export function stackedBands(dates: readonly Scene[], roles: readonly string[]): StackedBand[] {
  return dates.flatMap(({ id, acquired, bands }) =>
    roles
      .filter((role) => bands.some((band) => band.role === role))
      .map((role) => ({ scene_id: id, role, name: nameOf(role, acquired ?? "") })),
  );
}

function nameOf(role: string, date: string): string {
  const day = date.slice(5).replaceAll("-", "");
  return `${role.slice(0, 27)}_${day}`;
}
