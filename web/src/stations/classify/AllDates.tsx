import { Flex } from "@chakra-ui/react";

import { sentenceOf } from "../../api/problem";
import { useDerive } from "../../api/queries/derive";
import { useScenes } from "../../api/queries/scenes";
import { Quiet } from "../../shared/Quiet";
import { Remark } from "../../shared/Remark";
import { useStudyId } from "../../shared/study";
import { useCurrentScene } from "../../shared/useCurrent";
import { useView, useViewStore } from "../../shared/viewStore";
import { datesOfYear, stackedBands } from "./allDates";

/** The bands in hand of every date of the year, stacked as one input, in one press. */
export function AllDates({ onDone }: { readonly onDone: () => void }) {
  const studyId = useStudyId();
  const scene = useCurrentScene();
  const { roles } = useView("roles");
  const { data: scenes = [] } = useScenes(studyId);
  const change = useViewStore((store) => store.change);
  const derive = useDerive(studyId);
  const dates = datesOfYear(scene, scenes);
  if (dates.length < 2) return null;
  const members = stackedBands(dates, roles);
  const stack = () =>
    derive.mutate(
      { scene_ids: [scene.id], orders: [{ operation: "stack", settings: { members } }] },
      {
        onSuccess: ({ made: [stacked] }) => {
          if (!stacked) return;
          change({ sceneId: stacked.id, roles: stacked.bands.map(({ role }) => role) });
          onDone();
        },
      },
    );
  return (
    <>
      <Flex mt="2">
        <Quiet type="button" disabled={derive.isPending} onClick={stack}>
          All {dates.length} dates of {scene.acquired?.slice(0, 4)}, {members.length} bands
        </Quiet>
      </Flex>
      {derive.error && <Remark tone="problem">{sentenceOf(derive.error)}</Remark>}
    </>
  );
}
