import { Checkbox, Text } from "@chakra-ui/react";

import type { WidgetProps } from "../SchemaForm";
import { useFormSubject } from "../subject";
import { WidgetLabel } from "./WidgetLabel";

/** The meanings that the chosen scenes' quality bands know, by name. */
export function FlagsWidget({ field, value, onChange }: WidgetProps) {
  const { chosen } = useFormSubject();
  const known = [...new Set(chosen.flatMap((scene) => scene.flags))];
  const picked = Array.isArray(value) ? (value as string[]) : [];
  const toggle = (flag: string) =>
    onChange(picked.includes(flag) ? picked.filter((f) => f !== flag) : [...picked, flag]);
  return (
    <>
      <WidgetLabel field={field} />
      {known.length === 0 && (
        <Text color="quiet">Choose scenes that were delivered with a quality band.</Text>
      )}
      {known.map((flag) => (
        <Checkbox.Root
          key={flag}
          size="sm"
          mr="3"
          checked={picked.includes(flag)}
          onCheckedChange={() => toggle(flag)}
        >
          <Checkbox.HiddenInput />
          <Checkbox.Control />
          <Checkbox.Label fontSize="1rem">{flag.replaceAll("_", " ")}</Checkbox.Label>
        </Checkbox.Root>
      ))}
    </>
  );
}
