import { Box, CloseButton, Flex, Heading, Text } from "@chakra-ui/react";
import { type ReactNode, useEffect, useEffectEvent } from "react";

interface Props {
  readonly title: string;
  readonly purpose: string;
  readonly onClose?: (() => void) | undefined;
  readonly action?: ReactNode;
  readonly children: ReactNode;
}

/** A sheet that stands in the place of the panes while something wide is filled in or read. */
export function SheetFrame({ title, purpose, onClose, action, children }: Props) {
  const close = useEffectEvent(() => onClose?.());
  useEffect(() => {
    const key = (event: KeyboardEvent) => {
      if (event.key === "Escape" && !event.defaultPrevented) close();
    };
    document.addEventListener("keydown", key);
    return () => document.removeEventListener("keydown", key);
  }, []);
  return (
    <Flex as="section" aria-label={title} direction="column" flex="1" minH="0" bg="paper">
      <Flex px="5" pt="4" pb="2" gap="4" align="flex-start">
        <Box flex="1" minW="0">
          <Heading as="h2" fontSize="1.35rem" lineHeight="1.2" fontWeight="700">
            {title}
          </Heading>
          <Text color="quiet" mt="0.5">
            {purpose}
          </Text>
        </Box>
        {onClose && (
          <CloseButton
            size="sm"
            aria-label="Back to the panes"
            title="Back to the panes (Esc)"
            onClick={onClose}
          />
        )}
      </Flex>
      <Box flex="1" overflowY="auto" px="5" pb="4" minH="0">
        {children}
      </Box>
      {action !== undefined && (
        <Flex px="5" py="3" gap="3" align="center" borderTopWidth="1px" borderColor="line">
          {action}
        </Flex>
      )}
    </Flex>
  );
}
