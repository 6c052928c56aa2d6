import { Box, Flex, Heading } from "@chakra-ui/react";
import type { ReactNode } from "react";

interface Props {
  readonly title: string;
  readonly aside?: ReactNode;
  readonly children: ReactNode;
}

/** A part of a card under its small heading. */
export function Part({ title, aside, children }: Props) {
  return (
    <Box as="section" mt="3.5" aria-label={title}>
      <Flex justify="space-between" align="baseline" mb="1" gap="2">
        <Heading as="h2" fontSize="1rem" fontWeight="650" lineHeight="1.3">
          {title}
        </Heading>
        <Box color="quiet">{aside}</Box>
      </Flex>
      {children}
    </Box>
  );
}
