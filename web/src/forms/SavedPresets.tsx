import { Flex, Text } from "@chakra-ui/react";

import { sentenceOf } from "../api/problem";
import { usePresets, useRemovePreset, useSavePreset } from "../api/queries/deriveAids";
import type { Preset } from "../api/types";
import { Quiet } from "../shared/Quiet";
import { Remark } from "../shared/Remark";
import { SaveAs } from "../shared/SaveAs";
import { useStudyId } from "../shared/study";

type Content = Preset["content"];

interface Props {
  readonly kind: Preset["kind"];
  /** What one of them is called, in small letters. */
  readonly noun: string;
  /** A saved one in a few words. */
  readonly words: (content: Content) => string;
  /** The one in hand, where it can be saved. */
  readonly inHand: Content | null;
  readonly onChoose: (content: Content) => void;
}

/** What was saved in the study for reuse: used again, replaced, removed. */
export function SavedPresets({ kind, noun, words, inHand, onChoose }: Props) {
  const studyId = useStudyId();
  const { data = [] } = usePresets(studyId);
  const save = useSavePreset(studyId);
  const remove = useRemovePreset(studyId);
  const saved = data.filter((one) => one.kind === kind);
  return (
    <>
      {saved.map(({ id, name, content }) => (
        <Flex key={id} gap="2" align="baseline" mt="1">
          <Quiet type="button" onClick={() => onChoose(content)}>
            {name}
          </Quiet>
          <Text color="quiet" truncate flex="1" fontFamily="mono" fontSize="0.92em">
            {words(content)}
          </Text>
          <Quiet
            type="button"
            aria-label={`Remove the saved ${noun} ${name}`}
            onClick={() => remove.mutate(id)}
          >
            Remove
          </Quiet>
        </Flex>
      ))}
      {inHand && (
        <SaveAs
          label={`Name to save the ${noun} under`}
          placeholder={`Save the ${noun} as …`}
          saving={save.isPending}
          onSave={(name, done) => save.mutate({ kind, name, content: inHand }, { onSuccess: done })}
        />
      )}
      {save.error && <Remark tone="problem">{sentenceOf(save.error)}</Remark>}
    </>
  );
}
