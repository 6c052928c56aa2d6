import { chakra } from "@chakra-ui/react";
import type { ReactNode } from "react";

const Row = chakra("button", {
  base: {
    display: "block",
    width: "100%",
    textAlign: "start",
    px: "2",
    py: "1.5",
    borderRadius: "4px",
    cursor: "pointer",
    color: "ink",
    _hover: { bg: "coolTint" },
    _pressed: { bg: "coolTint", boxShadow: "inset 2px 0 0 {colors.cool}" },
  },
});

const Note = chakra("span", { base: { display: "block", color: "quiet", fontSize: "0.92em" } });

interface Props {
  readonly title: string;
  readonly note?: string | undefined;
  readonly chosen: boolean;
  readonly onChoose: () => void;
  /** A picture under the words. */
  readonly children?: ReactNode;
}

/** One of several things to choose from, with a line that says what it is. */
export function Choice({ title, note, chosen, onChoose, children }: Props) {
  return (
    <Row type="button" aria-pressed={chosen} onClick={onChoose}>
      {title}
      {note !== undefined && <Note>{note}</Note>}
      {children}
    </Row>
  );
}
