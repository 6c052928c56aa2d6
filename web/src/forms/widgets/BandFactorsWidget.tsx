import { Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { NumberField } from "../../shared/NumberField";
import { Quiet } from "../../shared/Quiet";
import type { WidgetProps } from "../SchemaForm";
import { useFormSubject } from "../subject";
import { type BandFactors, rolesOf, withFactor } from "./bandFactors";
import { WidgetLabel } from "./WidgetLabel";

/** A scale and an offset for each band that needs its own. */
export function BandFactorsWidget({ field, value, values, onChange }: WidgetProps) {
  const { chosen } = useFormSubject();
  const given = (value ?? []) as BandFactors[];
  const [asked, setAsked] = useState(false);
  const general = {
    scale: Number(values["scale"] ?? 0.0001),
    offset: Number(values["offset"] ?? 0),
  };
  if (!asked && given.length === 0) {
    return (
      <Quiet type="button" disabled={chosen.length === 0} onClick={() => setAsked(true)}>
        {chosen.length === 0 ? "Choose a scene, to give factors band by band" : field.title}
      </Quiet>
    );
  }
  return (
    <>
      <WidgetLabel field={field} />
      {rolesOf(chosen, given).map((role) => {
        const own = given.find((one) => one.role === role);
        return (
          <Flex key={role} gap="2" mt="1" align="center">
            <Text flex="1" minW="0" truncate title={role}>
              {role}
            </Text>
            {(["scale", "offset"] as const).map((part) => (
              <NumberField
                key={part}
                label={`${part === "scale" ? "Scale" : "Offset"} of ${role}`}
                width="6rem"
                value={own?.[part] ?? null}
                placeholder={String(general[part])}
                isGood={(n) => part === "offset" || n > 0}
                onNumber={(n) => onChange(withFactor(given, role, { [part]: n }, general))}
                onEmpty={() => onChange(given.filter((one) => one.role !== role))}
              />
            ))}
          </Flex>
        );
      })}
    </>
  );
}
