import { CloseButton, Dialog, Flex, Kbd, Portal, Switch, Text } from "@chakra-ui/react";

import { useTheme } from "./useTheme";

interface Props {
  readonly onClose: () => void;
}

const KEYS: [string, string][] = [
  ["1 to 9", "Pick the class that is drawn"],
  ["O", "Draw an outline: a click per corner, a double click ends it"],
  ["R", "Draw a rectangle: two opposite corners"],
  ["C", "Choose, move and reshape sites"],
  ["Delete", "Delete the chosen site"],
  ["Backspace, Esc", "While drawing: take back a corner, give up the outline"],
  ["Ctrl+Z, Ctrl+Shift+Z", "Undo, redo"],
  ["Arrow keys", "In a pane: move the crosshair by a pixel, with Shift by ten"],
  ["Space, Enter", "In a pane: set a corner at the crosshair, close the outline"],
  ["+ and -", "In a pane: closer, further"],
  ["Alt+click", "On a corner of the chosen site: take the corner out"],
  ["?", "This sheet"],
];

/** The keys, and what belongs to the whole application. */
export function HelpSheet({ onClose }: Props) {
  const { dark, setDark } = useTheme();
  return (
    <Dialog.Root open onOpenChange={(details) => !details.open && onClose()} size="md">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="card">
            <Dialog.Header>
              <Dialog.Title>Keys</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              {KEYS.map(([key, what]) => (
                <Flex key={key} py="1" gap="3" borderBottomWidth="1px" borderColor="line">
                  <Kbd width="11rem" flex="none" bg="transparent" justifyContent="flex-start">
                    {key}
                  </Kbd>
                  <Text>{what}</Text>
                </Flex>
              ))}
              <Switch.Root
                mt="4"
                checked={dark}
                onCheckedChange={(details) => setDark(details.checked)}
              >
                <Switch.HiddenInput />
                <Switch.Control />
                <Switch.Label>Dark theme</Switch.Label>
              </Switch.Root>
            </Dialog.Body>
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
