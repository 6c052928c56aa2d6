import { Box, CloseButton, Dialog, Flex, Kbd, Portal, Text } from "@chakra-ui/react";

import { useKeyStore } from "../shared/keyStore";
import { OnOff } from "../shared/OnOff";
import { useTheme } from "./useTheme";

interface Props {
  readonly onClose: () => void;
}

const KEYS: [heading: string, keys: [string, string][]][] = [
  [
    "Looking",
    [
      ["Arrow keys", "In a pane: move the crosshair by a pixel, with Shift by ten"],
      ["+ and -", "In a pane: closer, further"],
      ["T", "One, two, four panes"],
      ["B, held", "See what the next pane shows in the place of this one"],
      ["E", "Cut this pane open: an edge to drag, what the next pane shows right of it"],
      ["P, Shift+P", "Pin the crosshair’s pixel; take all pins out"],
      ["D", "Draw a line and read the values along it"],
      ["N", "Pin a note at the crosshair"],
      ["L", "All layers"],
      ["G", "Go to coordinates"],
      ["W, Q, Z", "Whole scene; one to one; the chosen site"],
    ],
  ],
  [
    "Drawing sites",
    [
      ["1 to 9", "Pick the class that is drawn"],
      ["O", "Draw an outline: a click per corner, a double click ends it"],
      ["R", "Draw a rectangle: drag it, or click two opposite corners"],
      ["I", "Draw a circle: drag it from its middle, or click twice"],
      ["F", "Grow a site from the pixel that is clicked; Enter keeps it, Esc drops it"],
      ["V", "Paint single pixels by dragging; with Shift they are taken out"],
      ["X", "Cut the chosen site along a line"],
      ["M, Shift+M", "The next place where a site would teach most; the one before"],
      ["C", "Choose, move and reshape sites"],
      ["Space, Enter", "In a pane: set a corner at the crosshair, close the outline"],
      ["Backspace, Esc", "While drawing: take back a corner, give up the outline"],
      ["Alt+click", "On a corner of the chosen site: take the corner out"],
      ["Delete", "Delete the chosen site"],
    ],
  ],
  [
    "Naming clusters",
    [
      ["1 to 9", "Call the cluster in hand the class of that number"],
      ["0", "Not yet: take its class back"],
      ["M, Shift+M", "The next cluster, the one before; the largest first"],
    ],
  ],
  [
    "Everywhere",
    [
      ["Ctrl+Z, Ctrl+Shift+Z", "Undo, redo"],
      ["?", "This sheet"],
    ],
  ],
];

/** The keys, and what belongs to the whole application. */
export function HelpSheet({ onClose }: Props) {
  const { dark, setDark } = useTheme();
  const { single, setSingle } = useKeyStore();
  return (
    <Dialog.Root
      open
      onOpenChange={(details) => !details.open && onClose()}
      size="md"
      scrollBehavior="inside"
    >
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="card">
            <Dialog.Header>
              <Dialog.Title>Keys</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              {KEYS.map(([heading, keys]) => (
                <Box key={heading} as="section" mb="3" aria-label={heading}>
                  <Text fontWeight="650">{heading}</Text>
                  {keys.map(([key, what]) => (
                    <Flex key={key} py="1" gap="3" borderBottomWidth="1px" borderColor="line">
                      <Kbd
                        width="11rem"
                        flex="none"
                        bg="transparent"
                        justifyContent="flex-start"
                        wordSpacing="normal"
                      >
                        {key}
                      </Kbd>
                      <Text>{what}</Text>
                    </Flex>
                  ))}
                </Box>
              ))}
              <Flex mt="4" gap="6">
                <OnOff label="Dark theme" on={dark} onChange={setDark} />
                <OnOff
                  label="Letters and numbers alone are keys"
                  on={single}
                  onChange={setSingle}
                />
              </Flex>
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
