import { Text } from "@chakra-ui/react";
import { Suspense, useState } from "react";

import type { Readout, Scene } from "../../api/types";
import { CurveChart, curvesToCsv } from "../../charts";
import { formatCount } from "../../shared/format";
import { clearPins, MOST_PINS, togglePin } from "../../shared/pins";
import { quantityWords } from "../../shared/quantity";
import { Quiet } from "../../shared/Quiet";
import { Select } from "../../shared/Select";
import { useView } from "../../shared/viewStore";
import { useWork } from "../../shared/workStore";
import { ChartFrame } from "../ChartFrame";
import { CurveLegend } from "../CurveLegend";
import { useMembers } from "../useMembers";
import { BEHIND, type Behind, useBackground } from "./useBackground";
import { useSpectra } from "./useSpectra";
import { ValueTable } from "./ValueTable";

interface Props {
  readonly readout: Readout | null;
}

/** The pixel under the crosshair in every pane's scene, pinned pixels, and what to hold them
 * against. */
export function SpectrumTab({ readout }: Props) {
  const { scenes } = useMembers();
  const [first] = scenes;
  return first ? <Spectrum scenes={scenes} first={first} readout={readout} /> : null;
}

interface SpectrumProps extends Props {
  readonly scenes: Scene[];
  readonly first: Scene;
}

function Spectrum({ scenes, first, readout }: SpectrumProps) {
  const { pins } = useView();
  const [picked, setPicked] = useState<Behind | null>(null);
  const background = useBackground(first, picked);
  const { curves, marks, xTitle, nameOf } = useSpectra(scenes, first, readout, background.curves);
  const xName = xTitle === "band" ? "band,number" : "band,wavelength_um";
  const pin = () => {
    const at = useWork.getState().crosshair;
    if (at) togglePin(at);
  };
  return (
    <ChartFrame
      name="spectrum"
      csv={() => curvesToCsv(curves, xName, (x) => `${nameOf(x)},${x}`)}
      note={noteOf(first, readout, background.note)}
      controls={
        <>
          <Select
            label="Behind the spectrum"
            hideLabel
            value={background.kind}
            options={BEHIND}
            onValue={(kind) => setPicked(kind as Behind)}
          />
          <Text color="quiet">
            {pins.length === 0
              ? "A click in a pane pins its pixel."
              : `${formatCount(pins.length)} of at most ${MOST_PINS} pinned`}
          </Text>
          <Quiet type="button" title="Key P" alignSelf="flex-start" onClick={pin}>
            Pin the crosshair’s pixel
          </Quiet>
          {pins.length > 0 && (
            <Quiet type="button" title="Key Shift+P" alignSelf="flex-start" onClick={clearPins}>
              Take all pins out
            </Quiet>
          )}
        </>
      }
      aside={
        <>
          {background.kind === "covers" && <CurveLegend curves={background.curves} />}
          <ValueTable curves={curves} marks={marks} />
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

function noteOf(first: Scene, readout: Readout | null, behind: string | null): string {
  if (!readout) return "Move over a pane to read a pixel’s spectrum.";
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
