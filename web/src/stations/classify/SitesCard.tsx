import { Flex } from "@chakra-ui/react";
import { useState } from "react";

import { useStartRun } from "../../api/queries/runs";
import { useTrained } from "../../api/queries/trained";
import type { Surety } from "../../api/types";
import { Card } from "../../shared/Card";
import { LEVEL } from "../../shared/method";
import { Primary } from "../../shared/Primary";
import { Quiet } from "../../shared/Quiet";
import { useStudyId } from "../../shared/study";
import { useCurrentTraining, useOrder } from "../../shared/useCurrent";
import { useWork } from "../../shared/workStore";
import { ByChoice } from "./ByChoice";
import { ClassMaps } from "./ClassMaps";
import { MethodForm } from "./MethodForm";
import { useWhere } from "./useWhere";
import { RunList } from "./RunList";

/** Choose how to classify, start the run, and read the maps that came of it. */
export function SitesCard() {
  const studyId = useStudyId();
  const order = useOrder();
  const { data: training } = useCurrentTraining();
  const { data: trained = [] } = useTrained(studyId);
  const set = useWork((store) => store.set);
  const start = useStartRun(studyId);
  const [give, setGive] = useState<Surety>([]);
  const place = useWhere();
  const run = () =>
    start.mutate({ ...order, give, level: LEVEL, ...(place.now && { where: place.now.where }) });
  return (
    <Card
      title="Classify"
      purpose="Give every pixel of the scene its class."
      action={
        <Primary onClick={run} loading={start.isPending} disabled={training?.problem !== null}>
          Classify {place.now?.title}
          {place.now?.where.within && ", within classes"}
        </Primary>
      }
    >
      <ByChoice />
      <RunList />
      <MethodForm give={give} onGive={setGive} place={place} />
      <Flex mt="2.5" columnGap="4" wrap="wrap">
        <Quiet type="button" minH="24px" onClick={() => set({ sheet: { kind: "methods" } })}>
          Try all methods
        </Quiet>
        <Quiet type="button" minH="24px" onClick={() => set({ sheet: { kind: "layers" } })}>
          Which layers matter
        </Quiet>
        <Quiet type="button" minH="24px" onClick={() => set({ sheet: { kind: "trained" } })}>
          Trained classifiers{trained.length > 0 && ` (${trained.length})`}
        </Quiet>
      </Flex>
      <ClassMaps />
    </Card>
  );
}
