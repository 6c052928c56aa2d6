import { Flex, Text } from "@chakra-ui/react";

import { Select } from "../../shared/Select";
import { Swatch } from "../../shared/Swatch";
import type { WidgetProps } from "../SchemaForm";
import { useLegend } from "../subject";
import { WidgetLabel } from "./WidgetLabel";

interface Recoded {
  code: number;
  to: number;
}

const UNCLASSIFIED = 255;

/** What each of the map's classes becomes; itself where nothing is said. */
export function RecodeWidget({ field, value, onChange }: WidgetProps) {
  const legend = useLegend();
  const table = Array.isArray(value) ? (value as Recoded[]) : [];
  const become = (code: number, to: number) => {
    const others = table.filter((one) => one.code !== code);
    onChange(to === code ? others : [...others, { code, to }]);
  };
  const known = legend.some(({ code }) => code === UNCLASSIFIED);
  const targets = [
    ...legend.map(({ code, name }) => ({ value: String(code), label: name })),
    ...(known ? [] : [{ value: String(UNCLASSIFIED), label: "Unclassified" }]),
  ];
  return (
    <>
      <WidgetLabel field={field} />
      {legend.map(({ code, name, colour }) => (
        <Flex key={code} align="center" gap="2" mt="1">
          <Text flex="1" truncate>
            <Swatch colour={colour} /> {name}
          </Text>
          <Select
            label={`${name} becomes`}
            hideLabel
            width="9.5rem"
            value={String(table.find((one) => one.code === code)?.to ?? code)}
            options={targets}
            onValue={(to) => become(code, Number(to))}
          />
        </Flex>
      ))}
    </>
  );
}
