import { Button, CloseButton, Dialog, Portal, Text, Textarea } from "@chakra-ui/react";
import { useState } from "react";

import { useAddNote } from "../api/queries/notes";
import { useStudyId } from "../shared/study";
import { useWork } from "../shared/workStore";

/** Words for the place of the crosshair. */
export function NoteDialog() {
  const notePlace = useWork((store) => store.notePlace);
  const set = useWork((store) => store.set);
  const [text, setText] = useState("");
  const add = useAddNote(useStudyId());
  if (!notePlace) return null;
  const close = () => {
    setText("");
    set({ notePlace: null });
  };
  const keep = () => {
    const [x, y] = notePlace;
    add.mutate({ x, y, text }, { onSuccess: close });
  };
  return (
    <Dialog.Root open onOpenChange={(details) => !details.open && close()} size="sm">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="card">
            <Dialog.Header>
              <Dialog.Title>A note at the crosshair</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              <Textarea
                aria-label="Words of the note"
                rows={3}
                autoFocus
                maxLength={2000}
                value={text}
                onChange={(event) => setText(event.currentTarget.value)}
              />
              <Text color="quiet" mt="1">
                It stays at its place, is kept with the study, and can be undone.
              </Text>
            </Dialog.Body>
            <Dialog.Footer>
              <Button
                size="sm"
                bg="warm"
                color="white"
                disabled={text.trim() === ""}
                loading={add.isPending}
                onClick={keep}
              >
                Pin it
              </Button>
            </Dialog.Footer>
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
