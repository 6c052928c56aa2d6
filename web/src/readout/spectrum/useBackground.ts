import { useMemo } from "react";

import { useReferenceSpectra } from "../../api/queries/look";
import { useClasses } from "../../api/queries/training";
import type { ClassTraining, LandClass, Scene, Training } from "../../api/types";
import type { Curve, Interval } from "../../charts";
import { useStation } from "../../shared/stations";
import { useStudyId } from "../../shared/study";
import { useCurrentTraining } from "../../shared/useCurrent";
import { useActiveClass } from "../../shared/usePick";
import { hasWavelengths, marksOf } from "./useSpectra";

export type Behind = "nothing" | "class" | "classes" | "covers";

export const BEHIND: { value: Behind; label: string }[] = [
  { value: "nothing", label: "nothing behind" },
  { value: "class", label: "the class in hand" },
  { value: "classes", label: "all classes" },
  { value: "covers", label: "common covers" },
];

interface Background {
  kind: Behind;
  curves: Curve[];
  intervals: Interval[];
  note: string | null;
}

/** Stations at which the spectrum of the class in hand stands behind the pixel's unasked. */
const WITH_CLASS = new Set(["train", "classify", "check"]);

/** What a spectrum is held against: classes with their spread, or covers as textbooks draw them. */
export function useBackground(scene: Scene, picked: Behind | null): Background {
  const { data: training } = useCurrentTraining();
  const { data: classes } = useClasses(useStudyId());
  const activeClass = useActiveClass();
  const station = useStation();
  const kind = picked ?? (WITH_CLASS.has(station) ? "class" : "nothing");
  const { data: covers } = useReferenceSpectra(kind === "covers");
  return useMemo(() => {
    const empty = { kind, curves: [], intervals: [], note: null };
    if (kind === "covers") {
      if (!covers || !hasWavelengths(scene)) return empty;
      return {
        kind,
        curves: covers.spectra.map(({ title, colour, wavelengths_um, reflectance }): Curve => ({
          name: title,
          colour,
          dashed: true,
          plain: true,
          points: wavelengths_um.map((at, i) => [at, reflectance[i] ?? null]),
        })),
        intervals: intervalsOf(scene, covers.intervals),
        note: covers.spectra[0]?.source ?? null,
      };
    }
    if (kind === "nothing" || !training) return empty;
    const rows = kind === "class" ? (activeClass ? [activeClass] : []) : (classes ?? []);
    const curves = rows.flatMap((row) => {
      const found = training.classes.find((one) => one.code === row.code);
      return found && found.n_pixels > 0 ? [classCurve(scene, row, found, training)] : [];
    });
    return { kind, curves, intervals: [], note: null };
  }, [kind, covers, scene, training, classes, activeClass]);
}

/** What the scene's own bands see, one after the other. */
function intervalsOf(
  scene: Scene,
  byRole: Record<string, { low: number; high: number }>,
): Interval[] {
  return scene.bands.flatMap(({ role }) => {
    const ends = byRole[role];
    return ends ? [{ from: ends.low, to: ends.high, label: "" }] : [];
  });
}

function classCurve(
  scene: Scene,
  row: LandClass,
  found: ClassTraining,
  { roles }: Training,
): Curve {
  const position = new Map(roles.map((role, i) => [role, i]));
  const rows = marksOf(scene).flatMap(({ at, label }) => {
    const i = position.get(label);
    if (i === undefined) return [];
    return [{ at, mean: found.mean[i] ?? 0, sd: found.standard_deviation[i] ?? 0 }];
  });
  return {
    name: `${row.name}, mean ± 1 s.d.`,
    colour: row.colour,
    dashed: true,
    points: rows.map(({ at, mean }) => [at, mean]),
    spread: rows.map(({ at, mean, sd }) => [at, Math.max(0, mean - sd), mean + sd]),
  };
}
