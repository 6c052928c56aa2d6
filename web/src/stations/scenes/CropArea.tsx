import { Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { sentenceOf } from "../../api/problem";
import { useCorrectLayers } from "../../api/queries/corrections";
import { useScenes } from "../../api/queries/scenes";
import { extentShown } from "../../map";
import { AreaList } from "../../shared/AreaList";
import { Quiet } from "../../shared/Quiet";
import { Remark } from "../../shared/Remark";
import { useStudyId } from "../../shared/study";
import { TextField } from "../../shared/TextField";
import { showScene } from "../../shared/view";
import { useView, useViewStore } from "../../shared/viewStore";
import { useWork } from "../../shared/workStore";

type Sides = Record<"left" | "bottom" | "right" | "top", number>;

/** Crop the scene of the left pane: to the view, to coordinates, or to areas. */
export function CropArea() {
  const studyId = useStudyId();
  const { data: scenes = [] } = useScenes(studyId);
  const [pane] = useView("panes").panes;
  const setPane = useViewStore((store) => store.setPane);
  const areas = useWork((store) => store.areas);
  const linked = useWork((store) => store.linked);
  const set = useWork((store) => store.set);
  const correct = useCorrectLayers(studyId);
  const [typed, setTyped] = useState("");
  const scene = pane.kind === "scene" ? scenes.find((s) => s.id === pane.sceneId) : undefined;
  if (!scene) return <Text color="quiet">Show a scene on the left, to crop it.</Text>;

  const crop = (settings: Record<string, unknown>) =>
    correct.mutate(
      { layer_ids: [scene.id], steps: [{ operation: "crop", settings }] },
      {
        onSuccess: ({ made }) => {
          const [cropped] = made;
          if (!cropped) return;
          set({ areas: [] });
          setPane(0, showScene(cropped, pane));
        },
      },
    );
  const sides = parseSides(typed);
  return (
    <>
      <Text color="quiet" mb="1.5">
        {scene.title}, which stands on the left, becomes a scene of its own; outside is no data.
      </Text>
      <AreaList />
      <TextField
        label="Left, bottom, right, top"
        value={typed}
        placeholder={exampleOf(scene.display.extent)}
        onText={setTyped}
      />
      <Flex gap="3" mt="2" wrap="wrap">
        <Quiet
          type="button"
          disabled={areas.length === 0 || correct.isPending}
          onClick={() => crop({ areas: areas.map((area) => ({ ...area.outline })) })}
        >
          Crop to the {areas.length === 1 ? "area" : "areas"}
        </Quiet>
        <Quiet
          type="button"
          disabled={!linked || correct.isPending}
          onClick={() => linked && crop({ extent: extentShown(linked) })}
        >
          Crop to the view
        </Quiet>
        <Quiet
          type="button"
          disabled={!sides || correct.isPending}
          onClick={() => sides && crop({ extent: sides })}
        >
          Crop to the coordinates
        </Quiet>
      </Flex>
      {correct.error && <Remark tone="problem">{sentenceOf(correct.error)}</Remark>}
      {correct.data?.made.map((made) => (
        <Remark key={made.id} tone="calm">
          {made.sentence}
        </Remark>
      ))}
    </>
  );
}

function parseSides(text: string): Sides | null {
  const [left, bottom, right, top] = text
    .trim()
    .split(/[,;\s]+/)
    .map(Number);
  const all = [left, bottom, right, top];
  if (!all.every((n): n is number => n !== undefined && Number.isFinite(n))) return null;
  return { left: left ?? 0, bottom: bottom ?? 0, right: right ?? 0, top: top ?? 0 };
}

function exampleOf({ left, bottom, right, top }: Sides): string {
  return [left, bottom, right, top].map((n) => Number(n.toPrecision(8))).join(", ");
}
