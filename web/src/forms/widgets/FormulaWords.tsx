import { Flex } from "@chakra-ui/react";

import { useFunctions, useLayerNames } from "../../api/queries/deriveAids";
import { Quiet } from "../../shared/Quiet";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { useFormScene } from "../subject";

interface Props {
  readonly onInsert: (words: string) => void;
}

/** What a formula may name, to be put in at the caret. */
export function FormulaWords({ onInsert }: Props) {
  const scene = useFormScene();
  const { data: functions = [] } = useFunctions();
  const { data: names = [] } = useLayerNames(useStudyId());
  const others = names.filter(({ name, scene_id }) => scene_id !== scene.id && name.includes("."));
  return (
    <>
      <Flex wrap="wrap" columnGap="10px" rowGap="7px" mt="1" role="group" aria-label="Bands">
        {scene.bands.map(({ role }) => (
          <Quiet key={role} type="button" title={`Insert ${role}`} onClick={() => onInsert(role)}>
            {role}
          </Quiet>
        ))}
      </Flex>
      <Flex wrap="wrap" columnGap="10px" rowGap="7px" my="7px" role="group" aria-label="Functions">
        {functions.map(({ name, words }) => (
          <Quiet key={name} type="button" title={words} onClick={() => onInsert(`${name}(`)}>
            {name}
          </Quiet>
        ))}
      </Flex>
      <Select
        label="Insert a layer of another scene"
        hideLabel
        value=""
        options={[
          { value: "", label: "insert a layer of another scene" },
          ...others.map(({ name, role, title }) => ({ value: name, label: `${role}, ${title}` })),
        ]}
        onValue={(name) => name !== "" && onInsert(name)}
      />
    </>
  );
}
