import { Box, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import { useClassifiers } from "../../../api/queries/runs";
import { useRemoveTrained, useRenameTrained } from "../../../api/queries/trained";
import type { Trained } from "../../../api/types";
import { Download } from "../../../shared/Download";
import { formatCount, formatDate, formatPercent, plural } from "../../../shared/format";
import { Quiet } from "../../../shared/Quiet";
import { useStudyId } from "../../../shared/study";
import { limitsWords } from "../limits";
import { PutOn } from "./PutOn";
import { Questions } from "./Questions";

const TREE = "decision-tree";

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
        {one.method === TREE && (
          <Quiet
            type="button"
            minH="24px"
            aria-expanded={reading}
            onClick={() => setReading(!reading)}
          >
            Its questions
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
      {reading && <Questions one={one} />}
      {open && <PutOn one={one} onApplied={onApplied} />}
    </Box>
  );
}

/** How a clustering came about. */
function clustersWords({ title, n_sampled, n_usable, rounds }: NonNullable<Trained["clusters"]>) {
  return `Clusters found by ${title} on ${formatCount(n_sampled)} of ${plural(n_usable, "usable pixel")}; ${rounds.at(-1) ?? ""}.`;
}

function Facts({ one }: { readonly one: Trained }) {
  const { data: methods = [] } = useClassifiers();
  const method = methods.find(({ id }) => id === one.method)?.title ?? one.method;
  const check = one.check;
  const [quantity] = one.quantities;
  const alike = one.quantities.every((each) => each === quantity);
  return (
    <>
      <Text>
        {method} on {plural(one.roles.length, "band")}
        {alike && quantity !== undefined && ` of ${quantity}`} ({one.roles.join(", ")}),{" "}
        {plural(one.classes.length, "class", "classes")}
        {one.scene !== null && `, trained on ${one.scene}`}, {formatDate(one.created_at)}.
      </Text>
      <Text color="quiet">
        {one.clusters
          ? clustersWords(one.clusters)
          : check?.mean == null
            ? "No site could be held out, so that there is no first check."
            : `First check: ${formatPercent(check.mean, 1)} told right (${limitsWords({ mean: check.mean, low: check.low, high: check.high })}) in ${check.n_folds} folds of whole sites; of the sites, not of the ground.`}
      </Text>
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
