import { Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { sentenceOf } from "../../api/problem";
import { useCombinations, useCombineScenes } from "../../api/queries/corrections";
import { Part } from "../../shared/Part";
import { Quiet } from "../../shared/Quiet";
import { Remark } from "../../shared/Remark";
import { SchemaForm, type Values } from "../../shared/SchemaForm";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { showScene } from "../../shared/view";
import { useViewStore } from "../../shared/viewStore";
import { useChosenScenes } from "./useChosenScenes";
import { WIDGETS } from "./widgets";

/** One scene of several dates, or a mosaic of tiles. */
export function CombinePart() {
  const { data: combinations = [] } = useCombinations();
  const { chosen } = useChosenScenes();
  const combine = useCombineScenes(useStudyId());
  const setPane = useViewStore((store) => store.setPane);
  const [method, setMethod] = useState("median");
  const [settings, setSettings] = useState<Values>({});
  const spec = combinations.find((c) => c.id === method);
  return (
    <Part title="Several scenes into one">
      <Select
        label="How"
        hideLabel
        value={method}
        options={combinations.map(({ id, title }) => ({ value: id, label: title }))}
        onValue={(id) => {
          setMethod(id);
          setSettings({});
        }}
      />
      <Text color="quiet" mt="1">
        {spec?.good_for}
      </Text>
      {spec && (
        <SchemaForm
          schema={spec.settings_schema}
          values={settings}
          onChange={setSettings}
          widgets={WIDGETS}
        />
      )}
      <Flex mt="2">
        <Quiet
          type="button"
          disabled={chosen.length < 2 || combine.isPending}
          onClick={() =>
            combine.mutate(
              { scene_ids: chosen.map((scene) => scene.id), method, settings },
              { onSuccess: (scene) => setPane(1, showScene(scene)) },
            )
          }
        >
          {chosen.length < 2
            ? "Choose at least two scenes above"
            : `Make one of ${chosen.length} scenes`}
        </Quiet>
      </Flex>
      {combine.error && <Remark tone="problem">{sentenceOf(combine.error)}</Remark>}
      {combine.data && <Remark tone="calm">Made “{combine.data.title}”.</Remark>}
    </Part>
  );
}
