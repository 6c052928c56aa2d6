import { Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";

import { useAccuracy, useMaps } from "../../api/queries/maps";
import { sentenceOf } from "../../api/problem";
import { Card } from "../../shared/Card";
import { MapChoice } from "../../shared/MapChoice";
import { Remark } from "../../shared/Remark";
import { useStudyId } from "../../shared/study";
import { UpperToggle } from "../../shared/UpperToggle";
import { useShownMap } from "../../shared/useShownMap";
import { useWork } from "../../shared/workStore";
import { AccuracyReport } from "./AccuracyReport";

/** Hold a class map against reference points that never trained it. */
export function CheckCard() {
  const { data: maps = [], isPending } = useMaps(useStudyId());
  const map = useShownMap();
  const [upper, setUpper] = useState(false);
  const { data: accuracy, error } = useAccuracy(map?.id ?? null, upper);
  const set = useWork((store) => store.set);
  useEffect(() => () => set({ markedPoints: [] }), [set]);
  return (
    <Card title="Check" purpose="How right is the map? Reference points never trained it.">
      {!map && !isPending && (
        <Text mt="3">There is no class map yet. Classify the scene first, then come back.</Text>
      )}
      {map && <MapChoice maps={maps} map={map} />}
      {map && <UpperToggle upper={upper} onUpper={setUpper} />}
      {error && <Remark tone="problem">{sentenceOf(error)}</Remark>}
      {map && accuracy && <AccuracyReport accuracy={accuracy} layerId={map.id} />}
    </Card>
  );
}
