import { useQueries } from "@tanstack/react-query";
import { useMemo } from "react";

import { readoutQuery } from "../../api/queries/look";
import type { Readout, Scene } from "../../api/types";
import type { AxisMark, Curve } from "../../charts";
import { lineColour } from "../../shared/pins";
import { isAlike } from "../../shared/quantity";
import { useStudyId } from "../../shared/study";
import { useShownPanes, useView } from "../../shared/viewStore";

interface Spectra {
  curves: Curve[];
  marks: AxisMark[];
  xTitle: string;
  nameOf: (x: number) => string;
}

/** The ink for the first pane's scene; others are told apart by colour and dashes. */
const SCENE_COLOURS = [null, "#1F6F94", "#B4690E", "#2E7D4F"];

/** Where each band stands on the axis: at its wavelength, or one after the other. */
export function marksOf(scene: Scene): AxisMark[] {
  const known = hasWavelengths(scene);
  return scene.bands
    .flatMap((band, i) => {
      if (!isAlike(scene, band)) return [];
      const { role, wavelength_um } = band;
      const at = known ? wavelength_um : i + 1;
      return at === null ? [] : [{ at, label: role }];
    })
    .sort((a, b) => a.at - b.at);
}

export function hasWavelengths(scene: Scene): boolean {
  return scene.bands.some((band) => band.wavelength_um !== null);
}

/** The crosshair's pixel in each scene and the pinned ones in the first, over what is behind. */
export function useSpectra(
  scenes: Scene[],
  first: Scene,
  readout: Readout | null,
  behind: Curve[],
): Spectra {
  const pinned = usePinned(first);
  const shown = useShownPanes();
  const order = shown.map((pane) => (pane.kind === "scene" ? pane.sceneId : 0)).join();
  return useMemo(() => {
    const marks = marksOf(first);
    const here = scenes.map((scene, i) => ({
      name: scenes.length > 1 ? scene.title : "here",
      ...(scenes.length > 1 && { short: `pane ${order.split(",").indexOf(String(scene.id)) + 1}` }),
      colour: SCENE_COLOURS[i % SCENE_COLOURS.length] ?? null,
      points: pointsOf(scene, readout),
    }));
    const pins = pinned.map((at, i) => ({
      name: `pin ${i + 1}`,
      colour: lineColour(i),
      points: pointsOf(first, at),
    }));
    const known = hasWavelengths(first);
    const label = new Map(marks.map((mark) => [mark.at, mark.label]));
    return {
      // What matters most is drawn last, and stands first in the table.
      curves: [...behind, ...pins.reverse(), ...here.reverse()].filter(
        (curve) => curve.points.length > 0,
      ),
      marks,
      xTitle: known ? "wavelength, µm" : "band",
      nameOf: (x: number) => label.get(x) ?? "",
    };
  }, [scenes, first, readout, behind, pinned, order]);
}

function usePinned(first: Scene): (Readout | null)[] {
  const studyId = useStudyId();
  const { pins } = useView("pins");
  return useQueries({
    queries: pins.map(([x, y]) => ({
      ...readoutQuery(studyId, { x, y, scenes: [first.id], live: null, layers: [] }),
      gcTime: 600_000,
    })),
    combine: (results) => results.map(({ data }) => data ?? null),
  });
}

function pointsOf(scene: Scene, readout: Readout | null): [number, number | null][] {
  const pixel = readout?.scenes.find((one) => one.scene_id === scene.id);
  if (!pixel) return [];
  return marksOf(scene).map(({ at, label }) => [at, pixel.values[label] ?? null]);
}
