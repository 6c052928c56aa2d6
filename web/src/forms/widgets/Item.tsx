import { Box, Flex, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";

import { Quiet } from "../../shared/Quiet";

interface Props {
  /** "Rule 1": its place is what it is called by. */
  readonly title: string;
  readonly onRemove: () => void;
  readonly children: ReactNode;
}

/** One of several things that a field holds, with what is said of it. */
export function Item({ title, onRemove, children }: Props) {
  return (
    <Box as="fieldset" mt="2" pl="2" borderLeftWidth="2px" borderColor="line">
      <Flex justify="space-between" align="baseline">
        <Text as="legend" fontWeight="600">
          {title}
        </Text>
        <Quiet type="button" aria-label={`Leave out ${title.toLowerCase()}`} onClick={onRemove}>
          Leave out
        </Quiet>
      </Flex>
      {children}
    </Box>
  );
}
