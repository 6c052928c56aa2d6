import { useState } from "react";

import { useClassifiers, useStartRun } from "../../api/queries/runs";
import { Card } from "../../shared/Card";
import { Primary } from "../../shared/Primary";
import type { Values } from "../../forms/SchemaForm";
import { useStudyId } from "../../shared/study";
import { useCurrentTraining } from "../../shared/useCurrent";
import { useView } from "../../shared/viewStore";
import { ClassMaps } from "./ClassMaps";
import { MethodForm } from "./MethodForm";
import { RunList } from "./RunList";

/** Choose how to classify, start the run, and read the maps that came of it. */
export function ClassifyCard() {
  const studyId = useStudyId();
  const { sceneId, roles } = useView();
  const { data: classifiers } = useClassifiers();
  const { data: training } = useCurrentTraining();
  const start = useStartRun(studyId);
  const [methodId, setMethodId] = useState("maximum-likelihood");
  const [settings, setSettings] = useState<Values>({});
  const method = classifiers?.find((c) => c.id === methodId);
  const run = () => start.mutate({ scene_id: sceneId, roles, method: methodId, settings });
  return (
    <Card
      title="Classify"
      purpose="Give every pixel of the scene its class."
      action={
        <Primary onClick={run} loading={start.isPending} disabled={training?.problem !== null}>
          Classify the whole scene
        </Primary>
      }
    >
      <RunList />
      {method && classifiers && (
        <MethodForm
          classifiers={classifiers}
          method={method}
          settings={settings}
          onMethod={(id) => {
            setMethodId(id);
            setSettings({});
          }}
          onSettings={setSettings}
        />
      )}
      <ClassMaps />
    </Card>
  );
}
