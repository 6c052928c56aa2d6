import { chakra, Popover, Portal } from "@chakra-ui/react";
import type { ReactNode } from "react";

import { useOnDemand } from "./useOnDemand";

interface Props {
  /** The words in the sentence. */
  readonly text: string;
  /** What can be changed here, for the tooltip and screen readers. */
  readonly label: string;
  readonly width?: string;
  readonly children: (close: () => void) => ReactNode;
}

const Words = chakra("button", {
  base: {
    fontWeight: 650,
    color: "ink",
    borderBottom: "2px solid",
    borderColor: "cool",
    cursor: "pointer",
    lineHeight: 1.25,
    _hover: { bg: "coolTint" },
    _expanded: { bg: "coolTint" },
  },
});

/** A bold part of a sentence that opens what it can be changed to. */
export function Handle({ text, label, width = "19rem", children }: Props) {
  const { made, open, setOpen, ask } = useOnDemand();
  const words = { type: "button", title: label, "aria-label": `${text}. ${label}` } as const;
  if (!made) {
    return (
      <Words {...words} onClick={ask} aria-haspopup="dialog">
        {text}
      </Words>
    );
  }
  return (
    <Popover.Root
      open={open}
      onOpenChange={(details) => setOpen(details.open)}
      positioning={{ placement: "bottom-start" }}
      lazyMount
      unmountOnExit
    >
      <Popover.Trigger asChild>
        <Words {...words}>{text}</Words>
      </Popover.Trigger>
      <Portal>
        <Popover.Positioner>
          <Popover.Content width={width} bg="card" borderWidth="1px" borderColor="line">
            <Popover.Body p="2" maxH="36rem" overflowY="auto">
              {children(() => setOpen(false))}
            </Popover.Body>
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  );
}
