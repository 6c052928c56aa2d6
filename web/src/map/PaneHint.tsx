import { Flex } from "@chakra-ui/react";
import type { ReactNode } from "react";

interface Props {
  readonly at: "top" | "bottom";
  /** It holds something to press; else clicks go through it. */
  readonly pressable?: boolean;
  readonly children: ReactNode;
}

/** A sentence over the picture of a pane. */
export function PaneHint({ at, pressable = false, children }: Props) {
  return (
    <Flex
      role="status"
      position="absolute"
      {...(at === "top" ? { top: "2.5rem" } : { bottom: "2" })}
      left="50%"
      transform="translateX(-50%)"
      zIndex="3"
      gap="2"
      px="2.5"
      py="1"
      bg="card"
      borderWidth="1px"
      borderColor="line"
      borderRadius="6px"
      whiteSpace="nowrap"
      pointerEvents={pressable ? "auto" : "none"}
    >
      {children}
    </Flex>
  );
}
