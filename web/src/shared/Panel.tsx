import { Box, type BoxProps } from "@chakra-ui/react";

/** A thing of its own in a card: a scene, a run, a map. */
export function Panel(props: BoxProps) {
  return (
    <Box
      mt="3"
      p="2.5"
      bg="card"
      borderWidth="1px"
      borderColor="line"
      borderRadius="6px"
      {...props}
    />
  );
}
