import { Text } from "@chakra-ui/react";
import { useEffect } from "react";

import { useAccuracy, useMaps } from "../../api/queries/maps";
import { sentenceOf } from "../../api/problem";
import { Card } from "../../shared/Card";
import { LayerChoice } from "../../shared/LayerChoice";
import { Remark } from "../../shared/Remark";
import { useStudyId } from "../../shared/study";
import { useShownLayer } from "../../shared/useShownLayer";
import { useWork } from "../../shared/workStore";
import { AccuracyReport } from "./AccuracyReport";

/** Hold a class map against reference points that never trained it. */
export function CheckCard() {
  const { data: layers = [], isPending } = useMaps(useStudyId());
  const layer = useShownLayer();
  const { data: accuracy, error } = useAccuracy(layer?.id ?? null);
  const set = useWork((store) => store.set);
  useEffect(() => () => set({ markedPoints: [] }), [set]);
  return (
    <Card title="Check" purpose="How right is the map? Reference points never trained it.">
      {!layer && !isPending && (
        <Text mt="3">There is no class map yet. Classify the scene first, then come back.</Text>
      )}
      {layer && <LayerChoice layers={layers} layer={layer} />}
      {error && <Remark tone="problem">{sentenceOf(error)}</Remark>}
      {layer && accuracy && <AccuracyReport accuracy={accuracy} layerId={layer.id} />}
    </Card>
  );
}
