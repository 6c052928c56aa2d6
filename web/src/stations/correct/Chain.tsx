import { Text } from "@chakra-ui/react";

import { useCorrections } from "../../api/queries/corrections";
import { StepForms } from "../../forms/StepForms";
import { useChain } from "./chainStore";
import { useChosenMaps } from "./useChosenScenes";

/** The steps, in the order in which they are done; each form is drawn from its settings. */
export function Chain() {
  const { data: corrections = [] } = useCorrections();
  const { steps, add, change, remove } = useChain();
  const { chosenMaps } = useChosenMaps();
  const kind = chosenMaps.length > 0 ? "classes" : "measured";
  const offered = corrections.filter(({ takes }) => takes.includes(kind));
  return (
    <>
      {steps.length === 0 && (
        <Text color="quiet">
          No step yet. The same chain is done to every chosen scene; what is left open is found in
          each scene by itself.
        </Text>
      )}
      <StepForms
        operations={corrections}
        offered={offered}
        steps={steps}
        onAdd={add}
        onChange={change}
        onRemove={remove}
      />
    </>
  );
}
