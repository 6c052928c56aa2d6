import { useNavigate } from "react-router";

import { useStartRun } from "../../api/queries/runs";
import { Card } from "../../shared/Card";
import { Primary } from "../../shared/Primary";
import { useStudyId } from "../../shared/study";
import { useCurrentTraining } from "../../shared/useCurrent";
import { useView } from "../../shared/viewStore";
import { Advice } from "./Advice";
import { ClassList } from "./ClassList";
import { HardPairs } from "./HardPairs";
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
      <ToolBar />
      <UnsavedSites />
      <ClassList />
      <SiteList />
      <Advice />
      <HardPairs />
    </Card>
  );
}

/** The usual way on: the whole scene with the method that the live map uses. */
function ClassifyAction() {
  const studyId = useStudyId();
  const { sceneId, roles } = useView();
  const { data: training } = useCurrentTraining();
  const start = useStartRun(studyId);
  const navigate = useNavigate();
  const run = () =>
    start.mutate(
      { scene_id: sceneId, roles, method: "maximum-likelihood", settings: {} },
      { onSuccess: () => void navigate(`/studies/${studyId}/classify`) },
    );
  return (
    <Primary onClick={run} loading={start.isPending} disabled={training?.problem !== null}>
      Classify the whole scene
    </Primary>
  );
}
