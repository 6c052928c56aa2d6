import { Button, Dialog, Portal, Text } from "@chakra-ui/react";

import { useAsking } from "../shared/askStore";

/** A question that has to be answered before something is done; closed, it is answered with no. */
export function Asking() {
  const question = useAsking((store) => store.question);
  if (!question) return null;
  const answer = (act: (() => void) | undefined) => {
    useAsking.setState({ question: null });
    act?.();
  };
  return (
    <Dialog.Root
      open
      role="alertdialog"
      size="sm"
      onOpenChange={({ open }) => !open && answer(question.onNo)}
    >
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="card">
            <Dialog.Header>
              <Dialog.Title>{question.title}</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              <Text>{question.words}</Text>
            </Dialog.Body>
            <Dialog.Footer>
              <Button
                size="sm"
                variant="outline"
                borderColor="line"
                onClick={() => answer(question.onNo)}
              >
                Leave it
              </Button>
              <Button size="sm" bg="warm" color="white" onClick={() => answer(question.onYes)}>
                {question.act}
              </Button>
            </Dialog.Footer>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
