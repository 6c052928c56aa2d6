import { useMemo } from "react";

import type { ClassTraining, LandClass, Readout, Scene } from "../api/types";
import type { AxisMark, Curve } from "../charts";

interface Inputs {
  scene: Scene;
  values: Readout["values"] | undefined;
  classRow: LandClass | null;
  training: ClassTraining | undefined;
  trainedRoles: string[];
}

/** The pixel's spectrum before the spectrum of the class in hand, mean and spread. */
export function useSpectra({ scene, values, classRow, training, trainedRoles }: Inputs) {
  return useMemo(() => {
    // A band whose wavelength nobody knows has no place on the axis; the table shows its value.
    const marks: AxisMark[] = scene.bands
      .flatMap(({ role, wavelength_um: at }) => (at === null ? [] : [{ at, label: role }]))
      .sort((a, b) => a.at - b.at);
    const wavelength = new Map(marks.map(({ at, label }) => [label, at]));
    const curves: Curve[] = [];
    if (classRow && training && training.n_pixels > 0) {
      curves.push(classCurve(classRow, training, trainedRoles, wavelength));
    }
    if (values) {
      const points = marks.flatMap(({ at, label }) => {
        const value = values[label];
        return value === null || value === undefined ? [] : [[at, value] as const];
      });
      if (points.length > 0) curves.push({ name: "here", colour: null, points });
    }
    return { curves, marks };
  }, [scene, values, classRow, training, trainedRoles]);
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
