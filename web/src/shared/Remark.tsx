import { Box } from "@chakra-ui/react";
import type { ReactNode } from "react";

interface Props {
  readonly tone: "calm" | "caution" | "problem";
  readonly children: ReactNode;
}

const EDGE = { calm: "cool", caution: "caution", problem: "warm" } as const;

/** One sentence of advice, with what can be done about it. */
export function Remark({ tone, children }: Props) {
  return (
    <Box
      mt="3"
      px="3"
      py="2"
      bg="card"
      borderWidth="1px"
      borderColor="line"
      borderLeftWidth="3px"
      borderLeftColor={EDGE[tone]}
      borderRadius="6px"
      role={tone === "problem" ? "alert" : undefined}
    >
      {children}
    </Box>
  );
}
