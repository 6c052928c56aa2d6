import { Flex } from "@chakra-ui/react";
import type { ReactNode } from "react";

/** What is chosen for a tab, in a column beside what it shows. */
export function ControlColumn({ children }: { readonly children: ReactNode }) {
  return (
    <Flex direction="column" width="178px" flex="none" ps="3" py="1" gap="1.5" overflowY="auto">
      {children}
    </Flex>
  );
}
