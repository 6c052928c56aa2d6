import { Flex, Text } from "@chakra-ui/react";

import { Quiet } from "../../shared/Quiet";

interface Props {
  readonly what: string;
  readonly onNone: () => void;
}

/** What was taken for a step, and the way to choose again. */
export function Used({ what, onNone }: Props) {
  return (
    <Flex justify="space-between">
      <Text>{what}</Text>
      <Quiet type="button" onClick={onNone}>
        choose again
      </Quiet>
    </Flex>
  );
}
