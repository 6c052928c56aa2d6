import { Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { useScenes } from "../../api/queries/scenes";
import { cornersShown, outlineOf } from "../../map";
import { Card } from "../../shared/Card";
import { Part } from "../../shared/Part";
import { Primary } from "../../shared/Primary";
import { Quiet } from "../../shared/Quiet";
import { useStudyId } from "../../shared/study";
import { useWork } from "../../shared/workStore";
import { BrokenScenes } from "./BrokenScenes";
import { CropArea } from "./CropArea";
import { ReceivedPart } from "./ReceivedPart";
import { SceneEntry } from "./SceneEntry";
import { SeriesPart } from "./SeriesPart";

/** What the study has to look at: its scenes, their facts and their bands. */
export function ScenesCard() {
  const { data: scenes = [], isPending } = useScenes(useStudyId());
  const [marked, setMarked] = useState<readonly number[]>([]);
  const linked = useWork((store) => store.linked);
  const sheet = useWork((store) => store.sheet);
  const set = useWork((store) => store.set);
  const single = scenes.filter(({ series, origin }) => series === null && origin !== "derived");
  const chosen = marked.filter((id) => single.some((scene) => scene.id === id));
  const mark = (id: number) =>
    setMarked(marked.includes(id) ? marked.filter((m) => m !== id) : [...marked, id]);
  const openCatalogue = () =>
    set({
      sheet: { kind: "catalogue", shown: linked ? outlineOf(cornersShown(linked)) : null },
    });
  return (
    <Card
      title="Scenes"
      purpose="What you have to look at, band by band, each on its date."
      action={
        sheet === null && (
          <Flex gap="2">
            <Primary width="auto" flex="1" onClick={() => set({ sheet: { kind: "bring-in" } })}>
              Bring in scenes
            </Primary>
            <Button
              size="md"
              variant="outline"
              borderColor="line"
              bg="card"
              flex="none"
              onClick={openCatalogue}
            >
              Catalogue
            </Button>
          </Flex>
        )
      }
    >
      {!isPending && single.length === 0 && (
        <Text mt="3">This study has no scene yet. Bring in files, or search the catalogue.</Text>
      )}
      {chosen.length > 0 && (
        <Flex mt="2" gap="3" align="baseline" role="status">
          <Text color="quiet" flex="1">
            {chosen.length} marked
          </Text>
          <Quiet
            type="button"
            disabled={chosen.length < 2}
            onClick={() => set({ sheet: { kind: "comparison", sceneIds: chosen } })}
          >
            Compare grids
          </Quiet>
          <Quiet type="button" onClick={() => setMarked([])}>
            Unmark
          </Quiet>
        </Flex>
      )}
      {single.map((scene) => (
        <SceneEntry
          key={scene.id}
          scene={scene}
          marked={chosen.includes(scene.id)}
          onMark={() => mark(scene.id)}
        />
      ))}
      <BrokenScenes />
      <SeriesPart />
      <Part title="Crop">
        <CropArea />
      </Part>
      <ReceivedPart />
    </Card>
  );
}
