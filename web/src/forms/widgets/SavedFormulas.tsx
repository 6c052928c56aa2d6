import { Flex, Text } from "@chakra-ui/react";
import { sentenceOf } from "../../api/problem";
import { usePresets, useRemovePreset, useSavePreset } from "../../api/queries/deriveAids";
import { Quiet } from "../../shared/Quiet";
import { Remark } from "../../shared/Remark";
import { SaveAs } from "../../shared/SaveAs";
import { useStudyId } from "../../shared/study";

interface Props {
  readonly text: string;
  /** It can be read, and so be saved. */
  readonly good: boolean;
  readonly onChoose: (text: string) => void;
}

/** Formulas that were saved in the study: used again, replaced, removed. */
export function SavedFormulas({ text, good, onChoose }: Props) {
  const studyId = useStudyId();
  const { data = [] } = usePresets(studyId);
  const save = useSavePreset(studyId);
  const remove = useRemovePreset(studyId);
  const saved = data.filter(({ kind }) => kind === "formula");
  return (
    <>
      {saved.map((one) => (
        <Flex key={one.id} gap="2" align="baseline" mt="1">
          <Quiet type="button" onClick={() => onChoose(String(one.content["formula"]))}>
            {one.name}
          </Quiet>
          <Text color="quiet" truncate flex="1" fontFamily="mono" fontSize="0.92em">
            {String(one.content["formula"])}
          </Text>
          <Quiet
            type="button"
            aria-label={`Remove the saved formula ${one.name}`}
            onClick={() => remove.mutate(one.id)}
          >
            Remove
          </Quiet>
        </Flex>
      ))}
      {good && (
        <SaveAs
          label="Name to save the formula under"
          placeholder="Save the formula as …"
          saving={save.isPending}
          onSave={(name, done) =>
            save.mutate({ kind: "formula", name, content: { formula: text } }, { onSuccess: done })
          }
        />
      )}
      {save.error && <Remark tone="problem">{sentenceOf(save.error)}</Remark>}
    </>
  );
}
