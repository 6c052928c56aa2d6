import { Box, Checkbox, Text } from "@chakra-ui/react";
import { useState } from "react";

import { sentenceOf } from "../../../api/problem";
import { useScenes } from "../../../api/queries/scenes";
import { useApply, useFits } from "../../../api/queries/trained";
import type { Fit, Surety, Trained } from "../../../api/types";
import { plural } from "../../../shared/format";
import { LEVEL } from "../../../shared/method";
import { Primary } from "../../../shared/Primary";
import { Remark } from "../../../shared/Remark";
import { useStudyId } from "../../../shared/study";
import { SuretyChoice } from "../SuretyChoice";

interface Props {
  readonly one: Trained;
  readonly onApplied: () => void;
}

/** Put a classifier on one scene or many; each is looked at first. */
export function PutOn({ one, onApplied }: Props) {
  const studyId = useStudyId();
  const { data: scenes = [] } = useScenes(studyId);
  const known = scenes.filter((scene) => one.roles.every((role) => hasRole(scene.bands, role)));
  const { data: fits, error } = useFits(
    one.id,
    known.map(({ id }) => id),
  );
  const apply = useApply(studyId);
  const problem = error ?? apply.error;
  const [chosen, setChosen] = useState<readonly number[]>([]);
  const [give, setGive] = useState<Surety>([]);
  const run = () =>
    apply.mutate(
      { id: one.id, scene_ids: [...chosen], give, level: LEVEL },
      { onSuccess: onApplied },
    );
  if (known.length === 0) {
    return <Text color="quiet">No scene of the study has all the bands that it needs.</Text>;
  }
  return (
    <Box mt="2" role="group" aria-label={`Scenes for ${one.name}`}>
      {known.map((scene) => {
        const fit = fits?.find(({ scene_id }) => scene_id === scene.id);
        return (
          <Box key={scene.id} mt="1">
            <Checkbox.Root
              size="sm"
              disabled={!fit || fit.problem !== null}
              checked={chosen.includes(scene.id)}
              onCheckedChange={({ checked }) =>
                setChosen(checked ? [...chosen, scene.id] : chosen.filter((id) => id !== scene.id))
              }
            >
              <Checkbox.HiddenInput />
              <Checkbox.Control />
              <Checkbox.Label fontSize="1rem">{scene.title}</Checkbox.Label>
            </Checkbox.Root>
            <FitWords fit={fit} />
          </Box>
        );
      })}
      <SuretyChoice give={give} onGive={setGive} />
      <Primary
        width="auto"
        size="sm"
        mt="2"
        loading={apply.isPending}
        disabled={chosen.length === 0}
        onClick={run}
      >
        {chosen.length === 0 ? "Classify" : `Classify ${plural(chosen.length, "scene")}`}
      </Primary>
      {problem && <Remark tone="problem">{sentenceOf(problem)}</Remark>}
    </Box>
  );
}

function hasRole(bands: readonly { role: string }[], role: string): boolean {
  return bands.some((band) => band.role === role);
}

function FitWords({ fit }: { readonly fit: Fit | undefined }) {
  if (!fit) {
    return (
      <Text color="quiet" ps="6">
        Being looked at …
      </Text>
    );
  }
  const words = fit.problem === null ? fit.remarks : [fit.problem];
  return words.map((sentence) => (
    <Text key={sentence} ps="6" color="caution">
      {sentence}
    </Text>
  ));
}
