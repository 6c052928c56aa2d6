import { useState } from "react";

import { sentenceOf } from "../../api/problem";
import { useFeatureSpace, useSoilLine } from "../../api/queries/look";
import type { Plane, PlaneOrder, Readout, SoilLine, RegionOrder } from "../../api/types";
import { ALL, type Ranges } from "../../charts";
import { formatCount } from "../../shared/format";
import { useStudyId } from "../../shared/study";
import type { Axes } from "./useAxes";

interface Space {
  order: PlaneOrder;
  plane: Plane | null;
  soil: SoilLine | null;
  canSoil: boolean;
  withSoil: boolean;
  setWithSoil: (on: boolean) => void;
  setRanges: (ranges: Ranges) => void;
  problem: string | null;
}

/** The pixels between two axes, counted by the server. */
export function useSpace(axes: Axes, where: RegionOrder): Space {
  const studyId = useStudyId();
  const [ranges, setRanges] = useState<Ranges>(ALL);
  const [withSoil, setWithSoil] = useState(false);
  const order: PlaneOrder = { x: axes.x.key, y: axes.y.key, ...rangeOrder(ranges), ...where };
  const { data, error } = useFeatureSpace(studyId, order);
  const canSoil = axes.x.role === "red" && axes.y.role.startsWith("nir");
  const soil = useSoilLine(studyId, withSoil && canSoil ? order : null);
  const wrong = error ?? soil.error;
  return {
    order,
    plane: error ? null : (data ?? null),
    soil: withSoil && canSoil ? (soil.data ?? null) : null,
    canSoil,
    withSoil,
    setWithSoil,
    setRanges,
    problem: wrong && sentenceOf(wrong),
  };
}

function rangeOrder({ x, y }: Ranges): Pick<PlaneOrder, "x_range" | "y_range"> {
  return {
    ...(x && { x_range: [x[0], x[1]] }),
    ...(y && { y_range: [y[0], y[1]] }),
  };
}

/** Where the crosshair's pixel lies. */
export function pointOf(readout: Readout | null, { x, y }: Axes): [number, number] | null {
  const valueOf = (sceneId: number, role: string) =>
    readout?.scenes.find((one) => one.scene_id === sceneId)?.values[role] ?? null;
  const across = valueOf(x.sceneId, x.role);
  const up = valueOf(y.sceneId, y.role);
  return across === null || up === null ? null : [across, up];
}

export function noteOf(plane: Plane): string {
  const parts = [
    `${formatCount(plane.n_valid)} valid of ${formatCount(plane.n_covered)} pixels`,
    plane.exact ? "every pixel" : "pixels spread over it",
  ];
  if (plane.n_outside > 0) parts.push(`${formatCount(plane.n_outside)} beyond the axes`);
  if (!plane.aligned) parts.push("grids differ: the second was brought onto the first’s");
  return parts.join(" · ");
}

/** The soil line's equation, what it was fitted to, and how well. */
export function soilWords({ slope, intercept, n_steps, n_pixels, r_squared }: SoilLine): string {
  const sign = intercept < 0 ? "−" : "+";
  const line = `nir = ${slope.toFixed(3)} × red ${sign} ${Math.abs(intercept).toFixed(4)}`;
  const fitted = `fitted to the foot of ${formatCount(n_pixels)} land pixels in ${n_steps} steps of red`;
  return `Soil line: ${line}, ${fitted}, r² ${r_squared.toFixed(3)}`;
}
