import { Text } from "@chakra-ui/react";
import { useState } from "react";

import { useCountPlane } from "../../api/queries/look";
import { useClasses } from "../../api/queries/training";
import type { Plane, Readout, SoilLine } from "../../api/types";
import { DensityPlot } from "../../charts";
import { useStudyId } from "../../shared/study";
import { useWork } from "../../shared/workStore";
import { ChartFrame } from "../ChartFrame";
import { useRegion } from "../useRegion";
import { CloudPart } from "./CloudPart";
import { densityCsv } from "./densityCsv";
import { Overlays } from "./Overlays";
import { SpaceControls } from "./SpaceControls";
import { type Axes, useAxes } from "./useAxes";
import { noteOf, pointOf, soilWords, useSpace } from "./useSpace";

interface Props {
  readonly readout: Readout | null;
}

/** How pixels lie between two bands: clouds to circle, classes to hold against them. */
export function SpaceTab({ readout }: Props) {
  const axes = useAxes();
  return axes && <FeatureSpace axes={axes} readout={readout} />;
}

interface SpaceProps extends Props {
  readonly axes: Axes;
}

function FeatureSpace({ axes, readout }: SpaceProps) {
  const studyId = useStudyId();
  const region = useRegion();
  const space = useSpace(axes, region.order);
  const [circling, setCircling] = useState(false);
  const [withClasses, setWithClasses] = useState(true);
  const { data: classes = [] } = useClasses(studyId);
  const cloud = useWork((store) => store.cloud);
  const set = useWork((store) => store.set);
  const count = useCountPlane(studyId);
  const { plane } = space;
  const isMine = cloud?.x === axes.x.key && cloud.y === axes.y.key;
  const light = (corners: [number, number][]) => {
    set({ cloud: { x: axes.x.key, y: axes.y.key, corners } });
    setCircling(false);
  };
  return (
    <ChartFrame
      name={`feature space of ${axes.x.role} and ${axes.y.role}`}
      csv={() => (plane ? densityCsv(plane) : "")}
      note={space.problem ?? (plane ? notesOf(plane, space.soil) : "Counting …")}
      controls={
        <SpaceControls
          axes={axes}
          region={region}
          space={space}
          circling={circling}
          onCircling={setCircling}
          withClasses={withClasses}
          onWithClasses={setWithClasses}
          classes={classes}
          onCloud={light}
          onCount={() => count.mutate(space.order)}
        />
      }
      aside={cloud && <CloudPart cloud={cloud} region={region} />}
    >
      {({ title, onReady }) =>
        plane ? (
          <DensityPlot
            density={plane}
            xTitle={axes.x.label}
            yTitle={axes.y.label}
            title={title}
            label={`Feature space of ${axes.x.label} across and ${axes.y.label} up, ${region.words}`}
            circling={circling}
            onCircled={light}
            onRanges={space.setRanges}
            onReady={onReady}
          >
            {(frame) => (
              <Overlays
                frame={frame}
                ellipses={withClasses ? plane.ellipses : []}
                classes={classes}
                soil={space.soil}
                cloud={isMine ? cloud.corners : []}
                here={pointOf(readout, axes)}
              />
            )}
          </DensityPlot>
        ) : (
          <Text p="3">{space.problem}</Text>
        )
      }
    </ChartFrame>
  );
}

function notesOf(plane: Plane, soil: SoilLine | null): string {
  return soil ? `${noteOf(plane)} · ${soilWords(soil)}` : noteOf(plane);
}
