import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";

interface Props {
  readonly title: string;
  readonly purpose: string;
  readonly children: ReactNode;
  readonly action?: ReactNode;
}

/** A station's card: what it is for, its forms and results, one primary action at the foot. */
export function Card({ title, purpose, children, action }: Props) {
  return (
    <Flex as="section" aria-label={title} direction="column" height="100%" minH="0">
      <Box px="3.5" pt="3" pb="2">
        <Heading as="h1" fontSize="1.35rem" lineHeight="1.2" fontWeight="700">
          {title}
        </Heading>
        <Text color="quiet" mt="0.5">
          {purpose}
        </Text>
      </Box>
      <Box flex="1" overflowY="auto" px="3.5" pb="3" minH="0">
        {children}
      </Box>
      {action !== undefined && action !== false && (
        <Box px="3.5" py="3" borderTopWidth="1px" borderColor="line">
          {action}
        </Box>
      )}
    </Flex>
  );
}
