import { Box, Flex, Input, Text } from "@chakra-ui/react";
import { type ComponentType, useState } from "react";

import { useClassifiers } from "../../../api/queries/runs";
import { useRemoveTrained, useRenameTrained } from "../../../api/queries/trained";
import type { Trained } from "../../../api/types";
import { Download } from "../../../shared/Download";
import { Quiet } from "../../../shared/Quiet";
import { useStudyId } from "../../../shared/study";
import { PutOn } from "./PutOn";
import { Questions } from "./Questions";
import { Rounds } from "./Rounds";
import { dissimilarityWords, whatWords, worthWords } from "./trainedWords";

/** What can be read of a classifier, by its method. */
const INSIDE: Record<string, { title: string; Part: ComponentType<{ one: Trained }> }> = {
  "decision-tree": { title: "Its questions", Part: Questions },
  "neural-network": { title: "How it learnt", Part: Rounds },
};

interface Props {
  readonly one: Trained;
  readonly open: boolean;
  readonly onOpen: (wanted: boolean) => void;
  readonly onApplied: () => void;
}

/** A trained classifier: what it is, its first check, and what can be done with it. */
export function TrainedEntry({ one, open, onOpen, onApplied }: Props) {
  const studyId = useStudyId();
  const remove = useRemoveTrained(studyId);
  const [renaming, setRenaming] = useState(false);
  const [reading, setReading] = useState(false);
  const inside = INSIDE[one.method];
  return (
    <Box
      as="section"
      aria-label={one.name}
      mt="3"
      px="4"
      py="3"
      bg="card"
      borderWidth="1px"
      borderColor="line"
      borderRadius="6px"
    >
      {renaming ? (
        <Rename one={one} onDone={() => setRenaming(false)} />
      ) : (
        <Text fontWeight="650" fontSize="1.08rem">
          {one.name}
        </Text>
      )}
      <Facts one={one} />
      <Flex mt="1.5" gap="4" align="baseline">
        <Quiet type="button" minH="24px" aria-expanded={open} onClick={() => onOpen(!open)}>
          Put on scenes …
        </Quiet>
        {inside && (
          <Quiet
            type="button"
            minH="24px"
            aria-expanded={reading}
            onClick={() => setReading(!reading)}
          >
            {inside.title}
          </Quiet>
        )}
        <Quiet type="button" minH="24px" onClick={() => setRenaming(true)}>
          Rename
        </Quiet>
        <Download href={`/api/trained-classifiers/${one.id}/file`}>Take away</Download>
        <Download href={`/api/trained-classifiers/${one.id}/onnx`}>As ONNX</Download>
        <Quiet
          type="button"
          minH="24px"
          disabled={remove.isPending}
          onClick={() => remove.mutate(one.id)}
        >
          Remove
        </Quiet>
      </Flex>
      {reading && inside && <inside.Part one={one} />}
      {open && <PutOn one={one} onApplied={onApplied} />}
    </Box>
  );
}

function Facts({ one }: { readonly one: Trained }) {
  const { data: methods = [] } = useClassifiers();
  const method = methods.find(({ id }) => id === one.method)?.title ?? one.method;
  const dissimilarity = dissimilarityWords(one);
  return (
    <>
      <Text>{whatWords(one, method)}</Text>
      <Text color="quiet">{worthWords(one)}</Text>
      {dissimilarity !== null && <Text color="quiet">{dissimilarity}</Text>}
    </>
  );
}

function Rename({ one, onDone }: { readonly one: Trained; readonly onDone: () => void }) {
  const rename = useRenameTrained(useStudyId());
  const [name, setName] = useState(one.name);
  const save = (event: React.SubmitEvent) => {
    event.preventDefault();
    if (name.trim() === "") return;
    rename.mutate({ id: one.id, name }, { onSuccess: onDone });
  };
  return (
    <form onSubmit={save}>
      <Flex gap="3" align="center">
        <Input
          size="sm"
          bg="card"
          maxW="22rem"
          maxLength={120}
          aria-label="Name of the classifier"
          value={name}
          onChange={(event) => setName(event.currentTarget.value)}
        />
        <Quiet type="submit" disabled={name.trim() === ""}>
          Save
        </Quiet>
        <Quiet type="button" onClick={onDone}>
          Leave it
        </Quiet>
      </Flex>
    </form>
  );
}
