import { Text } from "@chakra-ui/react";

import { useLayers } from "../../api/queries/layers";
import { Card } from "../../shared/Card";
import { useStudyId } from "../../shared/study";
import { DeliverEntry } from "./DeliverEntry";

/** Take the results away in open formats. */
export function DeliverCard() {
  const { data: layers = [], isPending } = useLayers(useStudyId());
  return (
    <Card
      title="Deliver"
      purpose="Class maps as GeoTIFF: coordinate system, no data, colours and class names inside."
    >
      {!isPending && layers.length === 0 && (
        <Text mt="3">There is nothing to deliver yet. Classify the scene first.</Text>
      )}
      {layers.map((layer) => (
        <DeliverEntry key={layer.id} layer={layer} />
      ))}
    </Card>
  );
}
