import { Text } from "@chakra-ui/react";

import { useMaps } from "../../api/queries/maps";
import { useScenes } from "../../api/queries/scenes";
import type { ClassMap } from "../../api/types";
import { Card } from "../../shared/Card";
import { isBreaksMap } from "../../shared/classMaps";
import { Part } from "../../shared/Part";
import { useStudyId } from "../../shared/study";
import { GroundFiles } from "./GroundFiles";
import { MapEntry } from "./MapEntry";
import { SceneFiles } from "./SceneFiles";

/** Take the results away in open formats. */
export function DeliverCard() {
  const studyId = useStudyId();
  const { data: all, isPending } = useMaps(studyId);
  const { data: scenes = [] } = useScenes(studyId);
  const made = scenes.filter(({ origin }) => origin !== "delivered");
  const maps = all?.filter((map) => !isBreaksMap(map)) ?? [];
  const breaks = all?.filter(isBreaksMap) ?? [];
  const isEmpty = !isPending && maps.length + breaks.length + made.length === 0;
  return (
    <Card
      title="Deliver"
      purpose="Maps, scenes and layers as GeoTIFF, with coordinate system, no data, colours and class names inside; their tables as CSV."
    >
      {isEmpty && <Text mt="3">No map or layer yet: classify the scene, or derive a layer.</Text>}
      <MapsPart title="Class maps" maps={maps} />
      <MapsPart title="Maps of class breaks" maps={breaks} />
      {made.length > 0 && <SceneFiles scenes={made} />}
      <GroundFiles />
    </Card>
  );
}

function MapsPart({ title, maps }: { readonly title: string; readonly maps: readonly ClassMap[] }) {
  if (maps.length === 0) return null;
  return (
    <Part title={title} aside={maps.length}>
      {maps.map((map) => (
        <MapEntry key={map.id} map={map} />
      ))}
    </Part>
  );
}
