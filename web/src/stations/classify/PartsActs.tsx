import { Flex } from "@chakra-ui/react";

import { Quiet } from "../../shared/Quiet";

const PARTS = [2, 3, 4] as const;

interface Props {
  readonly disabled: boolean;
  readonly onParts: (n: number) => void;
}

/** In how many parts a class or cluster is divided. */
export function PartsActs({ disabled, onParts }: Props) {
  return (
    <Flex mt="1" gap="4">
      {PARTS.map((n) => (
        <Quiet key={n} type="button" minH="24px" disabled={disabled} onClick={() => onParts(n)}>
          Divide in {n}
        </Quiet>
      ))}
    </Flex>
  );
}
