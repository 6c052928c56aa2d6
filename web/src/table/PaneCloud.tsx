import { useState } from "react";

import { useScenes } from "../api/queries/scenes";
import { type LinkedView, TileLayer } from "../map";
import { useBusy } from "../shared/busyStore";
import { cloudText } from "../shared/cloud";
import { memberOf } from "../shared/member";
import { useStudyId } from "../shared/study";
import { useView } from "../shared/viewStore";
import { useWork } from "../shared/workStore";

interface Props {
  readonly linked: LinkedView;
}

/** The pixels that lie in the cloud circled in feature space, lit. */
export function PaneCloud({ linked }: Props) {
  const studyId = useStudyId();
  const [busy, setBusy] = useState(false);
  useBusy(busy);
  const cloud = useWork((store) => store.cloud);
  const { tab } = useView("tab");
  const { data: scenes } = useScenes(studyId);
  const sceneId = cloud && memberOf(cloud.x).sceneId;
  const grid = scenes?.find((scene) => scene.id === sceneId)?.display;
  if (!cloud || !grid || tab !== "space") return null;
  const query = new URLSearchParams({ x: cloud.x, y: cloud.y, cloud: cloudText(cloud.corners) });
  return (
    <TileLayer
      linked={linked}
      grid={grid}
      url={`/api/studies/${studyId}/cloud-tiles/{z}/{y}/{x}.png?${query.toString()}`}
      kind="codes"
      zIndex={5}
      onState={({ busy: on }) => setBusy(on)}
    />
  );
}
