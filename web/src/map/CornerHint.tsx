import { Text } from "@chakra-ui/react";

/** What the next click will do, and how not to. */
export function CornerHint() {
  return (
    <Text
      role="status"
      position="absolute"
      top="2.5rem"
      left="50%"
      transform="translateX(-50%)"
      zIndex="3"
      px="2.5"
      py="1"
      bg="card"
      borderWidth="1px"
      borderColor="line"
      borderRadius="6px"
      pointerEvents="none"
    >
      Click the opposite corner; Esc gives it up.
    </Text>
  );
}
