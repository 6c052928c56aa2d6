import { Flex, Text } from "@chakra-ui/react";

import { useCorrections } from "../../api/queries/corrections";
import type { Scene } from "../../api/types";
import { Quiet } from "../../shared/Quiet";
import { Remark } from "../../shared/Remark";
import { useChain } from "./chainStore";
import { useChosenScenes } from "./useChosenScenes";

/** Before a conversion is started: which scenes have no factors for it, and what can be done. */
export function MissingFactors() {
  const { chosen } = useChosenScenes();
  const { steps, replace } = useChain();
  const { data: corrections = [] } = useCorrections();
  const found = steps.flatMap(({ key, operation }) => {
    const otherwise = corrections.find(({ id }) => id === operation)?.otherwise;
    return otherwise ? [{ key, otherwise }] : [];
  });
  const [step] = found;
  const lacking = chosen.filter((scene) => scene.without_factors.length > 0);
  if (!step || lacking.length === 0) return null;
  return (
    <Remark tone="caution">
      {lacking.map((scene) => (
        <Text key={scene.id}>{wordsFor(scene)}</Text>
      ))}
      <Flex gap="3" mt="1">
        <Quiet type="button" onClick={() => replace(step.key, step.otherwise)}>
          Give scale and offset by hand instead, for all bands or band by band
        </Quiet>
      </Flex>
    </Remark>
  );
}

function wordsFor({ title, bands, without_factors }: Scene): string {
  const which = without_factors.length === bands.length ? "its bands" : without_factors.join(", ");
  return `No metadata says what the numbers of “${title}” mean: there are no factors for ${which}.`;
}
