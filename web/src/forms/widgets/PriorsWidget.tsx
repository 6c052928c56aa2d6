import { Flex, Text } from "@chakra-ui/react";

import { useClasses } from "../../api/queries/training";
import { NumberField } from "../../shared/NumberField";
import { useStudyId } from "../../shared/study";
import { Swatch } from "../../shared/Swatch";
import type { WidgetProps } from "../SchemaForm";

interface Prior {
  code: number;
  prior: number;
}

/** How likely each class is before a pixel is looked at; only where they are to be typed. */
export function PriorsWidget({ field, value, values, onChange }: WidgetProps) {
  const { data: classes = [] } = useClasses(useStudyId());
  if (values["priors"] !== "typed") return null;
  const typed = Array.isArray(value) ? (value as Prior[]) : [];
  const without = (code: number) => typed.filter((one) => one.code !== code);
  return (
    <>
      <Text fontWeight="500">{field.title}</Text>
      {classes.map(({ code, name, colour }) => (
        <Flex key={code} align="center" justify="space-between" mt="1">
          <span>
            <Swatch colour={colour} /> {name}
          </span>
          <NumberField
            label={`Prior of ${name}`}
            value={typed.find((one) => one.code === code)?.prior ?? null}
            isGood={(prior) => prior > 0 && prior <= 1e6}
            onNumber={(prior) => onChange([...without(code), { code, prior }])}
            onEmpty={() => onChange(without(code))}
          />
        </Flex>
      ))}
      <Text color="quiet">{field.description}</Text>
    </>
  );
}
