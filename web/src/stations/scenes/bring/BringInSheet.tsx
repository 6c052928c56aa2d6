import { Spinner, Text } from "@chakra-ui/react";
import { sentenceOf } from "../../../api/problem";
import { useFindings, useTakeFolder } from "../../../api/queries/deliveries";
import type { Scene } from "../../../api/types";
import { Remark } from "../../../shared/Remark";
import { SheetFrame } from "../../../shared/SheetFrame";
import { useStudyId } from "../../../shared/study";
import { DropZone } from "./DropZone";
import { FindingsSheet, PURPOSE, TITLE } from "./FindingsSheet";
import { FolderList } from "./FolderList";
import { SendingList } from "./SendingList";
import { useUpload } from "./useUpload";

interface Props {
  readonly onClose?: (() => void) | undefined;
  readonly onTaken: (scenes: Scene[]) => void;
}

/** From files to scenes: send or point to them, see what was recognised, take it. */
export function BringInSheet({ onClose, onTaken }: Props) {
  const studyId = useStudyId();
  const upload = useUpload(studyId);
  const folder = useTakeFolder(studyId);
  const deliveryId = upload.deliveryId ?? folder.data?.id ?? null;
  const { data: findings, error } = useFindings(deliveryId);
  if (deliveryId !== null && findings) {
    return (
      <FindingsSheet
        deliveryId={deliveryId}
        findings={findings}
        onClose={onClose}
        onTaken={onTaken}
      />
    );
  }
  const isSending = upload.files.length > 0;
  const isStart = !isSending && deliveryId === null;
  return (
    <SheetFrame title={TITLE} purpose={PURPOSE} onClose={onClose}>
      {isStart && (
        <>
          <DropZone onFiles={upload.start} />
          <FolderList onTake={(path) => folder.mutate(path)} />
        </>
      )}
      {upload.problem !== null && <Remark tone="problem">{upload.problem}</Remark>}
      {isSending && <SendingList files={upload.files} />}
      {deliveryId !== null && <Looking error={error} />}
    </SheetFrame>
  );
}

function Looking({ error }: { readonly error: Error | null }) {
  if (error) return <Remark tone="problem">{sentenceOf(error)}</Remark>;
  return (
    <Text mt="3" role="status">
      <Spinner size="xs" mr="2" /> Looking at what arrived …
    </Text>
  );
}
