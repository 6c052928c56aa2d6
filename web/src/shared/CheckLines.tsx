import { Checkbox } from "@chakra-ui/react";
import type { ReactNode } from "react";

interface Props {
  readonly lines: readonly { readonly id: number; readonly label: ReactNode }[];
  readonly chosen: readonly number[];
  readonly onChosen: (chosen: number[]) => void;
}

/** Any of some, one below the other, by number: names may be the same. */
export function CheckLines({ lines, chosen, onChosen }: Props) {
  const toggle = (id: number) =>
    onChosen(chosen.includes(id) ? chosen.filter((one) => one !== id) : [...chosen, id]);
  return lines.map(({ id, label }) => (
    <Checkbox.Root
      key={id}
      size="sm"
      display="flex"
      my="1"
      checked={chosen.includes(id)}
      onCheckedChange={() => toggle(id)}
    >
      <Checkbox.HiddenInput />
      <Checkbox.Control />
      <Checkbox.Label fontSize="1rem" overflowWrap="anywhere">
        {label}
      </Checkbox.Label>
    </Checkbox.Root>
  ));
}
