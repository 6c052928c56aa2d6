import { Center, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";

import { KiteMark } from "./KiteMark";

/** A page with nothing on it but a sentence. */
export function Blank({ children }: { readonly children: ReactNode }) {
  return (
    <Center height="100vh" flexDirection="column" gap="4">
      <KiteMark height={56} />
      <Text maxW="30rem" textAlign="center" role="status">
        {children}
      </Text>
    </Center>
  );
}
