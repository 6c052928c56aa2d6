import { Suspense, useState } from "react";

import type { Readout, Scene } from "../../api/types";
import { CurveChart, curvesToCsv } from "../../charts";
import { isAlike, quantityWords } from "../../shared/quantity";
import { Select } from "../../shared/Select";
import { useView } from "../../shared/viewStore";
import { ChartFrame } from "../ChartFrame";
import { CurveLegend } from "../CurveLegend";
import { PinActs } from "../PinActs";
import { useMembers } from "../useMembers";
import { LiveScores } from "./LiveScores";
import { BEHIND, type Behind, useBackground } from "./useBackground";
import { hasWavelengths, useSpectra } from "./useSpectra";
import { type LayerValue, ValueTable } from "./ValueTable";

interface Props {
  readonly readout: Readout | null;
}

/** The pixel under the crosshair in every pane's scene, pinned pixels, and what to hold them
 * against. */
export function SpectrumTab({ readout }: Props) {
  const { scenes } = useMembers();
  const measured = scenes.filter(hasWavelengths);
  // Without any spectrum, the bands of the first layer stand side by side.
  const drawn = measured.length > 0 ? measured : scenes.slice(0, 1);
  const [first] = drawn;
  if (!first) return null;
  const others = scenes.filter((scene) => !drawn.includes(scene));
  return <Spectrum scenes={drawn} first={first} others={others} readout={readout} />;
}

interface SpectrumProps extends Props {
  readonly scenes: Scene[];
  readonly first: Scene;
  readonly others: readonly Scene[];
}

function Spectrum({ scenes, first, others, readout }: SpectrumProps) {
  const { pins } = useView("pins");
  const [picked, setPicked] = useState<Behind | null>(null);
  const background = useBackground(first, picked);
  const { curves, marks, xTitle, nameOf } = useSpectra(scenes, first, readout, background.curves);
  const xNames = ["band", xTitle === "band" ? "number" : "wavelength_um"];
  return (
    <ChartFrame
      name="spectrum"
      csv={() => curvesToCsv(curves, xNames, (x) => [nameOf(x), x])}
      note={noteOf(first, readout, background.note)}
      empty={readout || pins.length > 0 ? null : HOW}
      controls={
        <>
          <Select
            label="Behind the spectrum"
            hideLabel
            value={background.kind}
            options={BEHIND}
            onValue={(kind) => setPicked(kind as Behind)}
          />
          <LiveScores readout={readout} />
          <PinActs />
        </>
      }
      aside={
        <>
          {background.kind === "covers" && <CurveLegend curves={background.curves} />}
          <ValueTable
            curves={curves}
            marks={marks}
            others={valuesBeside(scenes, others, readout)}
          />
        </>
      }
    >
      {({ title, ranges, setRanges, onReady }) => (
        <Suspense fallback={null}>
          <CurveChart
            curves={curves}
            marks={marks}
            intervals={background.intervals}
            xAxis={{ title: xTitle }}
            yAxis={{ title: quantityWords(first) }}
            title={title}
            ranges={ranges}
            onRanges={setRanges}
            onReady={onReady}
            label={inWords(first, readout)}
          />
        </Suspense>
      )}
    </ChartFrame>
  );
}

const HOW = "Move over a pane to read a pixel’s spectrum; a click pins it.";

/** What stands in no curve: derived layers, and bands of another quantity than the spectrum's. */
function valuesBeside(
  drawn: readonly Scene[],
  others: readonly Scene[],
  readout: Readout | null,
): LayerValue[] {
  const unlike = drawn.flatMap((scene) =>
    scene.bands.filter((band) => !isAlike(scene, band)).map((band) => ({ scene, band })),
  );
  const derived = others.flatMap((scene) => scene.bands.map((band) => ({ scene, band })));
  return [...unlike, ...derived].map(({ scene: { id, title }, band: { role, unit } }) => ({
    key: `${id}:${role}`,
    name: unit ? `${role}, ${unit}` : role,
    title,
    value: readout?.scenes.find((one) => one.scene_id === id)?.values[role] ?? null,
  }));
}

function noteOf(first: Scene, readout: Readout | null, behind: string | null): string {
  if (!readout) return "";
  const pixel = readout.scenes.find((s) => s.scene_id === first.id);
  const unusable = pixel && !pixel.usable;
  const remark = unusable ? ". This pixel takes no part: fill, cloud or cloud shadow." : "";
  return `${first.title}, ${quantityWords(first)}${remark}${behind ? ` · ${behind}` : ""}`;
}

function inWords(first: Scene, readout: Readout | null): string {
  const pixel = readout?.scenes.find((s) => s.scene_id === first.id);
  if (!pixel) return "Spectrum of the pixel under the crosshair; none yet.";
  const values = first.bands.map(({ role }) => {
    const value = pixel.values[role];
    return `${role} ${value === null || value === undefined ? "no data" : value.toFixed(3)}`;
  });
  return `Spectrum of the pixel under the crosshair: ${values.join(", ")}.`;
}
