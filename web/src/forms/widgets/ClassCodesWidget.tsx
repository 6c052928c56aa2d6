import { Checkbox, chakra } from "@chakra-ui/react";

import { Swatch } from "../../shared/Swatch";
import type { WidgetProps } from "../SchemaForm";
import { useFormSubject } from "../subject";
import { WidgetLabel } from "./WidgetLabel";

const Details = chakra("details", { base: { mt: "0.5" } });
const Summary = chakra("summary", {
  base: { cursor: "pointer", color: "cool", fontWeight: 600, lineHeight: "24px" },
});

/** Some of the map's classes; none means all. */
export function ClassCodesWidget({ field, value, onChange }: WidgetProps) {
  const { legend = [] } = useFormSubject();
  const picked = Array.isArray(value) ? (value as number[]) : [];
  const toggle = (code: number) =>
    onChange(picked.includes(code) ? picked.filter((c) => c !== code) : [...picked, code]);
  const names = legend.filter(({ code }) => picked.includes(code)).map(({ name }) => name);
  return (
    <>
      <WidgetLabel field={field} />
      <Details>
        <Summary>{names.length > 0 ? names.join(", ") : "All classes"}</Summary>
        {legend.map(({ code, name, colour }) => (
          <Checkbox.Root
            key={code}
            size="sm"
            display="flex"
            my="1"
            checked={picked.includes(code)}
            onCheckedChange={() => toggle(code)}
          >
            <Checkbox.HiddenInput />
            <Checkbox.Control />
            <Checkbox.Label fontSize="1rem">
              <Swatch colour={colour} /> {name}
            </Checkbox.Label>
          </Checkbox.Root>
        ))}
      </Details>
    </>
  );
}
