import { Box } from "@chakra-ui/react";

import { GOOD, toneOf } from "../../shared/apart";

/** How far apart, from 0 to 2; the mark stands at 1.9. */
export function Rung({ value }: { readonly value: number }) {
  return (
    <Box
      position="relative"
      width="5.4rem"
      height="6px"
      bg="bg.muted"
      borderRadius="3px"
      aria-hidden
    >
      <Box width={`${50 * value}%`} height="100%" bg={toneOf(value)} borderRadius="3px" />
      <Box
        position="absolute"
        left={`${50 * GOOD}%`}
        top="-4px"
        bottom="-4px"
        width="1px"
        bg="ink"
      />
    </Box>
  );
}
