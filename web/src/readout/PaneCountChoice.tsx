import { Flex, IconButton } from "@chakra-ui/react";

import type { PaneCount } from "../shared/view";
import { useView, useViewStore } from "../shared/viewStore";

const LINES: Record<PaneCount, string> = { 1: "", 2: "M8 2v12", 4: "M8 2v12M2 8h12" };
const NAMES: Record<PaneCount, string> = { 1: "One pane", 2: "Two panes", 4: "Four panes" };

/** How many panes there are. */
export function PaneCountChoice() {
  const { count } = useView("count");
  const change = useViewStore((store) => store.change);
  return (
    <Flex gap="0.5" role="group" aria-label="Number of panes">
      {([1, 2, 4] as const).map((n) => (
        <IconButton
          key={n}
          size="2xs"
          variant="ghost"
          aria-label={NAMES[n]}
          title={`${NAMES[n]} (key T for the next number)`}
          aria-pressed={n === count}
          color={n === count ? "cool" : "quiet"}
          bg={n === count ? "coolTint" : "transparent"}
          onClick={() => change({ count: n })}
        >
          <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden>
            <path
              d={`M2 2h12v12H2z${LINES[n]}`}
              fill="none"
              stroke="currentColor"
              strokeWidth={1.5}
            />
          </svg>
        </IconButton>
      ))}
    </Flex>
  );
}
