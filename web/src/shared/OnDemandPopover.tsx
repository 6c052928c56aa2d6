import { Popover, type PopoverRootProps, Portal } from "@chakra-ui/react";
import { cloneElement, type ReactElement, type ReactNode } from "react";

import { useOnDemand } from "./useOnDemand";

interface Props {
  /** The button that opens it. */
  readonly button: ReactElement<{ onClick?: () => void; "aria-haspopup"?: "dialog" }>;
  readonly placement: NonNullable<PopoverRootProps["positioning"]>["placement"];
  readonly width: string;
  readonly children: (close: () => void) => ReactNode;
}

/** A popover that costs nothing until its button is first pressed. */
export function OnDemandPopover({ button, placement, width, children }: Props) {
  const { made, open, setOpen, ask } = useOnDemand();
  if (!made) return cloneElement(button, { onClick: ask, "aria-haspopup": "dialog" });
  return (
    <Popover.Root
      open={open}
      onOpenChange={(details) => setOpen(details.open)}
      // Once it is open it stays where it is, however the words that opened it change.
      positioning={{ placement, listeners: false }}
      lazyMount
      unmountOnExit
    >
      <Popover.Trigger asChild>{button}</Popover.Trigger>
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
