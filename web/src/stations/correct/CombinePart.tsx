import { Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { sentenceOf } from "../../api/problem";
import { useCombinations, useCombineLayers } from "../../api/queries/corrections";
import type { Made } from "../../api/types";
import { Part } from "../../shared/Part";
import { Quiet } from "../../shared/Quiet";
import { Remark } from "../../shared/Remark";
import { SchemaForm, type Values } from "../../forms/SchemaForm";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { firstMade, namesOfMade } from "../../shared/made";
import { useViewStore } from "../../shared/viewStore";
import { chosenWords } from "./chosenWords";
import { useChosenMaps, useChosenScenes } from "./useChosenScenes";

/** One scene of several dates, or a mosaic of tiles. */
export function CombinePart() {
  const { data: combinations = [] } = useCombinations();
  const { chosen } = useChosenScenes();
  const { chosenMaps } = useChosenMaps();
  const layers = [...chosen, ...chosenMaps].map(({ id }) => id);
  const combine = useCombineLayers(useStudyId());
  const setPane = useViewStore((store) => store.setPane);
  const [method, setMethod] = useState("median");
  const [settings, setSettings] = useState<Values>({});
  const spec = combinations.find((c) => c.id === method);
  const showIt = (made: Made) => {
    const show = firstMade(made);
    if (show) setPane(1, show);
  };
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
        <SchemaForm schema={spec.settings_schema} values={settings} onChange={setSettings} />
      )}
      <Flex mt="2">
        <Quiet
          type="button"
          disabled={layers.length < 2 || combine.isPending}
          onClick={() =>
            combine.mutate({ layer_ids: layers, method, settings }, { onSuccess: showIt })
          }
        >
          {layers.length < 2
            ? "Choose at least two scenes above"
            : `Make one of ${chosenWords(chosen.length, chosenMaps.length)}`}
        </Quiet>
      </Flex>
      {combine.error && <Remark tone="problem">{sentenceOf(combine.error)}</Remark>}
      {combine.data && <Remark tone="calm">Made {namesOfMade(combine.data)}.</Remark>}
    </Part>
  );
}
