import { useMemo } from "react";

import type { ClassTraining, LandClass, Readout, Scene } from "../api/types";
import type { AxisMark, Curve } from "../charts";

interface Inputs {
  scene: Scene;
  values: Readout["values"] | undefined;
  /** The same place in the other pane's scene. */
  beside: Beside | null;
  classRow: LandClass | null;
  training: ClassTraining | undefined;
  trainedRoles: string[];
}

export interface Beside {
  title: string;
  values: Readout["values"] | undefined;
}

const QUANTITIES = {
  reflectance: "reflectance",
  radiance: "radiance, W/(m² sr µm)",
  numbers: "numbers as delivered",
} as const;

export function quantityWords(scene: Scene): string {
  return QUANTITIES[scene.quantity];
}

export function hasWavelengths(scene: Scene): boolean {
  return scene.bands.some((band) => band.wavelength_um !== null);
}

/** Where each band stands on the axis: at its wavelength, or one after the other. */
function marksOf(scene: Scene): AxisMark[] {
  const known = hasWavelengths(scene);
  return scene.bands
    .flatMap(({ role, wavelength_um }, i) => {
      const at = known ? wavelength_um : i + 1;
      return at === null ? [] : [{ at, label: role }];
    })
    .sort((a, b) => a.at - b.at);
}

/** The pixel's spectrum in both scenes, before that of the class in hand, mean and spread. */
export function useSpectra({ scene, values, beside, classRow, training, trainedRoles }: Inputs) {
  return useMemo(() => {
    const marks = marksOf(scene);
    const wavelength = new Map(marks.map(({ at, label }) => [label, at]));
    const curves: Curve[] = [];
    if (classRow && training && training.n_pixels > 0) {
      curves.push(classCurve(classRow, training, trainedRoles, wavelength));
    }
    const right = pointsOf(beside?.values, marks);
    if (right.length > 0) curves.push({ name: "right", colour: RIGHT_COLOUR, points: right });
    const here = pointsOf(values, marks);
    if (here.length > 0)
      curves.push({ name: beside ? "left" : "here", colour: null, points: here });
    return { curves, marks };
  }, [scene, values, beside, classRow, training, trainedRoles]);
}

const RIGHT_COLOUR = "#1F6F94";

function pointsOf(values: Readout["values"] | undefined, marks: readonly AxisMark[]) {
  return marks.flatMap(({ at, label }) => {
    const value = values?.[label];
    return value === null || value === undefined ? [] : [[at, value] as const];
  });
}

function classCurve(
  classRow: LandClass,
  training: ClassTraining,
  roles: string[],
  wavelength: Map<string, number>,
): Curve {
  const rows = roles
    .map((role, i) => ({
      x: wavelength.get(role) ?? 0,
      mean: training.mean[i] ?? 0,
      sd: training.standard_deviation[i] ?? 0,
    }))
    .sort((a, b) => a.x - b.x);
  return {
    name: `${classRow.name}, mean ± 1 s.d.`,
    colour: classRow.colour,
    dashed: true,
    points: rows.map(({ x, mean }) => [x, mean]),
    spread: rows.map(({ x, mean, sd }) => [x, Math.max(0, mean - sd), mean + sd]),
  };
}
