import { Box, Text } from "@chakra-ui/react";
import { useState } from "react";

import { sentenceOf } from "../../../api/problem";
import { useBringInTrained, useTrained } from "../../../api/queries/trained";
import { FileButton } from "../../../shared/FileButton";
import { Remark } from "../../../shared/Remark";
import { SheetFrame } from "../../../shared/SheetFrame";
import { useStudyId } from "../../../shared/study";
import { TrainedEntry } from "./TrainedEntry";

const PURPOSE =
  "What each run has learnt, kept with the bands it needs, what their values mean, and its first check. Put one on other scenes, or take it to another study.";

/** All trained classifiers of the study. */
export function TrainedSheet({ onClose }: { readonly onClose: () => void }) {
  const studyId = useStudyId();
  const { data: trained = [], isPending } = useTrained(studyId);
  const bringIn = useBringInTrained(studyId);
  const [open, setOpen] = useState<number | null>(null);
  return (
    <SheetFrame title="Trained classifiers" purpose={PURPOSE} onClose={onClose}>
      <FileButton
        label="Bring one in"
        accept=".zip,.onnx"
        busy={bringIn.isPending}
        onFile={(file) => bringIn.mutate(file)}
      />
      {bringIn.error && <Remark tone="problem">{sentenceOf(bringIn.error)}</Remark>}
      {trained.length === 0 && !isPending && (
        <Text color="quiet" mt="3">
          None yet. Each classification of a scene leaves one here, under the name of its map.
        </Text>
      )}
      <Box maxW="52rem">
        {trained.map((one) => (
          <TrainedEntry
            key={one.id}
            one={one}
            open={open === one.id}
            onOpen={(wanted) => setOpen(wanted ? one.id : null)}
            onApplied={onClose}
          />
        ))}
      </Box>
    </SheetFrame>
  );
}
