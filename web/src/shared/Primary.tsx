import { Button, type ButtonProps } from "@chakra-ui/react";

/** The one primary action of a card. */
export function Primary(props: ButtonProps) {
  return (
    <Button
      width="100%"
      size="md"
      fontSize="1.08rem"
      fontWeight="650"
      bg="warm"
      color="white"
      _hover={{ bg: "#A93820" }}
      {...props}
    />
  );
}
