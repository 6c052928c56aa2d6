import { chakra } from "@chakra-ui/react";

/** The key that does what stands beside it. */
export const KeyCap = chakra("kbd", {
  base: {
    width: "1.35rem",
    flex: "none",
    textAlign: "center",
    borderWidth: "1px",
    borderColor: "line",
    borderRadius: "4px",
    bg: "card",
    fontFamily: "inherit",
    fontSize: "0.85em",
    color: "quiet",
  },
});
