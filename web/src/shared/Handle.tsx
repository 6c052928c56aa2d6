import { chakra } from "@chakra-ui/react";
import type { ReactNode } from "react";

import { OnDemandPopover } from "./OnDemandPopover";

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
    // A name that is longer than its line is cut, until the sentence unfolds.
    maxW: "100%",
    overflow: "hidden",
    textOverflow: "ellipsis",
    whiteSpace: "nowrap",
    verticalAlign: "bottom",
    textAlign: "start",
    ".group:hover &, .group:has(:focus-visible) &": { whiteSpace: "normal" },
    _hover: { bg: "coolTint" },
    _expanded: { bg: "coolTint" },
  },
});

/** A bold part of a sentence that opens what it can be changed to. */
export function Handle({ text, label, width = "19rem", children }: Props) {
  const words = (
    <Words type="button" title={label} aria-label={`${text}. ${label}`}>
      {text}
    </Words>
  );
  return (
    <OnDemandPopover button={words} placement="bottom-start" width={width}>
      {children}
    </OnDemandPopover>
  );
}
