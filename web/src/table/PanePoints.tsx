import { useMemo } from "react";

import { usePoints } from "../api/queries/studies";
import { useClasses } from "../api/queries/training";
import { type MapPoint, PointsLayer } from "../map";
import { useStudyId } from "../shared/study";
import { useOverlay } from "../shared/useOverlay";
import { useWork } from "../shared/workStore";

/** The reference points in the colours of what was found on the ground. */
export function PanePoints() {
  const studyId = useStudyId();
  const { data: points } = usePoints(studyId);
  const { data: classes } = useClasses(studyId);
  const marked = useWork((store) => store.markedPoints);
  const shown = useMemo<MapPoint[]>(() => {
    const colours = new Map(classes?.map((c) => [c.code, c.colour]));
    const loud = new Set(marked);
    return (points ?? []).map((point) => ({
      id: point.id,
      x: point.x,
      y: point.y,
      colour: colours.get(point.class_code) ?? "#888888",
      marked: loud.has(point.id),
    }));
  }, [points, classes, marked]);
  return useOverlay("points") ? <PointsLayer points={shown} /> : null;
}
