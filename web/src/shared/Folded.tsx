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
  readonly children: ReactNode;
}

/** What is needed seldom, behind its title. */
export function Folded({ title, mt = "1.5", children }: Props) {
  return (
    <Details mt={mt}>
      <Summary>{title}</Summary>
      {children}
    </Details>
  );
}
