import { Flex } from "@chakra-ui/react";

import { Toggle } from "../../shared/Toggle";
import { useDeriveStore } from "./deriveStore";
import { useKinds } from "./kinds";

/** What is to be made. */
export function KindChoice() {
  const kinds = useKinds();
  const { kind, choose } = useDeriveStore();
  return (
    <Flex gap="1.5" wrap="wrap" mt="2.5" role="group" aria-label="What is derived">
      {kinds.map(({ id, title }) => (
        <Toggle key={id} label={title} on={id === kind} onClick={() => choose(id)} />
      ))}
    </Flex>
  );
}
