import { Text } from "@chakra-ui/react";
import { useState } from "react";

import { sentenceOf } from "../../../api/problem";
import { useTakeScenes } from "../../../api/queries/deliveries";
import type { Findings, Scene } from "../../../api/types";
import { plural } from "../../../shared/format";
import { Primary } from "../../../shared/Primary";
import { Remark } from "../../../shared/Remark";
import { SheetFrame } from "../../../shared/SheetFrame";
import { useStudyId } from "../../../shared/study";
import { lacking, makeDrafts } from "./draft";
import { FindingsList } from "./FindingsList";
import { useVocabulary } from "./useVocabulary";

interface Props {
  readonly deliveryId: number;
  readonly findings: Findings;
  readonly onClose?: (() => void) | undefined;
  readonly onTaken: (scenes: Scene[]) => void;
}

export const TITLE = "Bring in scenes";
export const PURPOSE =
  "Sets of band files as delivered, multi-band files, or a series of dates. Nothing you bring is ever changed.";

/** What was recognised, filled in where it must be, and taken into the study. */
export function FindingsSheet({ deliveryId, findings, onClose, onTaken }: Props) {
  const take = useTakeScenes(useStudyId());
  const [drafts, setDrafts] = useState(() => makeDrafts(findings));
  const known = useVocabulary();
  const chosen = drafts.filter((draft) => draft.include);
  const missing = chosen
    .map((draft) => lacking(draft, known))
    .find((sentence) => sentence !== null);
  const finish = () =>
    take.mutate(
      { deliveryId, scenes: chosen.map((draft) => draft.order) },
      { onSuccess: (scenes) => onTaken(scenes) },
    );
  return (
    <SheetFrame
      title={TITLE}
      purpose={PURPOSE}
      onClose={onClose}
      action={
        <>
          <Primary
            width="auto"
            px="6"
            disabled={chosen.length === 0 || missing !== undefined}
            loading={take.isPending}
            onClick={finish}
          >
            {`Take ${plural(chosen.length, "scene")} into the study`}
          </Primary>
          <Text color="quiet" flex="1">
            {missing ?? "Stacking costs no time: bands are read where they lie."}
          </Text>
        </>
      }
    >
      {take.error && <Remark tone="problem">{sentenceOf(take.error)}</Remark>}
      <FindingsList
        deliveryId={deliveryId}
        findings={findings}
        drafts={drafts}
        onDrafts={setDrafts}
      />
    </SheetFrame>
  );
}
