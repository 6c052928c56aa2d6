import { Box, Flex } from "@chakra-ui/react";
import { useNavigate } from "react-router";

import { useStartRun } from "../../api/queries/runs";
import { Card } from "../../shared/Card";
import { LEVEL } from "../../shared/method";
import { Primary } from "../../shared/Primary";
import { useStudyId } from "../../shared/study";
import { useCurrentTraining, useOrder } from "../../shared/useCurrent";
import { useWork } from "../../shared/workStore";
import { Advice } from "./Advice";
import { ClassList } from "./ClassList";
import { GrowPanel } from "./GrowPanel";
import { HardPairs } from "./HardPairs";
import { NextPlaces } from "./NextPlaces";
import { SiteList } from "./SiteList";
import { ToolBar } from "./ToolBar";
import { UnsavedSites } from "./UnsavedSites";

/** Draw training sites per class, and see at once what they are worth. */
export function TrainCard() {
  return (
    <Card
      title="Train"
      purpose="Draw where you are sure. Two pixels inside the edge."
      action={<ClassifyAction />}
    >
      <Flex direction="column" height="100%">
        <Box flexShrink={0}>
          <ToolBar />
          <GrowPanel />
          <UnsavedSites />
          <ClassList />
        </Box>
        <SiteList />
        <Box flexShrink={0}>
          <AdviceOrPlaces />
          <HardPairs />
        </Box>
      </Flex>
    </Card>
  );
}

/** One thing at a time: what would help most, or where to draw next while that is looked at. */
function AdviceOrPlaces() {
  const touring = useWork((store) => store.nextPlace !== null);
  return touring ? <NextPlaces /> : <Advice />;
}

/** The usual way on: the whole scene with the method that the live map uses. */
function ClassifyAction() {
  const studyId = useStudyId();
  const order = useOrder();
  const { data: training } = useCurrentTraining();
  const start = useStartRun(studyId);
  const navigate = useNavigate();
  const run = () =>
    start.mutate(
      { ...order, give: [], level: LEVEL },
      { onSuccess: () => void navigate(`/studies/${studyId}/classify`) },
    );
  return (
    <Primary onClick={run} loading={start.isPending} disabled={training?.problem !== null}>
      Classify the whole scene
    </Primary>
  );
}
