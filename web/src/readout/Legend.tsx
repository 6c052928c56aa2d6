import { Flex, Text } from "@chakra-ui/react";

import type { Curve } from "../charts";

/** What each line of the chart is. */
export function Legend({ curves }: { readonly curves: readonly Curve[] }) {
  return (
    <Flex gap="3" flex="1" justify="flex-end" minW="0">
      {curves.map(({ name, colour, dashed }) => (
        <Flex key={name} align="center" gap="1.5" minW="0">
          <svg width="22" height="8" aria-hidden style={{ flex: "none" }}>
            <path
              d="M0 4h22"
              stroke={colour ?? "var(--chakra-colors-ink)"}
              strokeWidth="2.5"
              strokeDasharray={dashed ? "5 3" : undefined}
            />
          </svg>
          <Text truncate>{name}</Text>
        </Flex>
      ))}
    </Flex>
  );
}
