import { Checkbox, chakra } from "@chakra-ui/react";

import type { ClassMap } from "../../api/types";

const Details = chakra("details", { base: { mt: "3" } });
const Summary = chakra("summary", {
  base: { cursor: "pointer", color: "cool", fontWeight: 600, lineHeight: "24px" },
});

interface Props {
  /** Those that there are beside the one in hand. */
  readonly maps: readonly ClassMap[];
  readonly also: readonly number[];
  readonly onAlso: (also: readonly number[]) => void;
}

/** Other maps to which the same chain is done in one act. */
export function AlsoFor({ maps, also, onAlso }: Props) {
  if (maps.length === 0) return null;
  const toggle = (id: number) =>
    onAlso(also.includes(id) ? also.filter((one) => one !== id) : [...also, id]);
  return (
    <Details>
      <Summary>The same for other maps{also.length > 0 && `: ${also.length}`}</Summary>
      {maps.map(({ id, title }) => (
        <Checkbox.Root
          key={id}
          size="sm"
          display="flex"
          my="1"
          checked={also.includes(id)}
          onCheckedChange={() => toggle(id)}
        >
          <Checkbox.HiddenInput />
          <Checkbox.Control />
          <Checkbox.Label fontSize="1rem" overflowWrap="anywhere">
            {title}
          </Checkbox.Label>
        </Checkbox.Root>
      ))}
    </Details>
  );
}
