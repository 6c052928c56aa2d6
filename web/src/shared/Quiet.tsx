import { chakra } from "@chakra-ui/react";

/** A small act inside a line of text. */
export const Quiet = chakra("button", {
  base: {
    color: "cool",
    fontWeight: 600,
    cursor: "pointer",
    borderRadius: "3px",
    _hover: { textDecoration: "underline" },
    _disabled: { color: "quiet", cursor: "not-allowed", textDecoration: "none" },
  },
});
