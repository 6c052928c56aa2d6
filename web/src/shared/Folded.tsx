import { chakra } from "@chakra-ui/react";
import type { ReactNode } from "react";

const Details = chakra("details");
const Summary = chakra("summary", {
  base: { cursor: "pointer", color: "cool", fontWeight: 600, lineHeight: "24px" },
});

interface Props {
  readonly title: ReactNode;
  /** Space above. */
  readonly mt?: string;
  /** Until it is folded by hand. */
  readonly startsOpen?: boolean;
  readonly children: ReactNode;
}

/** What is needed seldom, behind its title. */
export function Folded({ title, mt = "1.5", startsOpen = false, children }: Props) {
  return (
    <Details mt={mt} open={startsOpen || undefined}>
      <Summary>{title}</Summary>
      {children}
    </Details>
  );
}
