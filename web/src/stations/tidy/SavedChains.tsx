import { Flex, Text } from "@chakra-ui/react";

import { sentenceOf } from "../../api/problem";
import { usePresets, useRemovePreset, useSavePreset } from "../../api/queries/deriveAids";
import type { StepOrder } from "../../api/types";
import { plural } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { Remark } from "../../shared/Remark";
import { SaveAs } from "../../shared/SaveAs";
import { useStudyId } from "../../shared/study";

interface Props {
  /** The chain in hand. */
  readonly steps: readonly StepOrder[];
  readonly onChoose: (steps: readonly StepOrder[]) => void;
}

/** Chains that are kept in the study: done again to another map, replaced, removed. */
export function SavedChains({ steps, onChoose }: Props) {
  const studyId = useStudyId();
  const { data = [] } = usePresets(studyId);
  const save = useSavePreset(studyId);
  const remove = useRemovePreset(studyId);
  const chains = data.filter(({ kind }) => kind === "chain");
  return (
    <>
      {chains.map(({ id, name, content }) => (
        <Flex key={id} gap="2" align="baseline" mt="1.5">
          <Quiet type="button" onClick={() => onChoose(stepsIn(content))}>
            {name}
          </Quiet>
          <Text color="quiet" flex="1">
            {plural(stepsIn(content).length, "step")}
          </Text>
          <Quiet
            type="button"
            aria-label={`Remove the chain ${name}`}
            onClick={() => remove.mutate(id)}
          >
            Remove
          </Quiet>
        </Flex>
      ))}
      {steps.length > 0 && (
        <SaveAs
          label="Name to keep the chain under"
          placeholder="Keep the chain as …"
          saving={save.isPending}
          onSave={(name, done) =>
            save.mutate({ kind: "chain", name, content: { steps } }, { onSuccess: done })
          }
        />
      )}
      {save.error && <Remark tone="problem">{sentenceOf(save.error)}</Remark>}
    </>
  );
}

function stepsIn(content: Record<string, unknown>): readonly StepOrder[] {
  return content["steps"] as readonly StepOrder[];
}
