import { Flex, Text } from "@chakra-ui/react";

import { useClasses } from "../../api/queries/training";
import { classAbove } from "../../shared/classAbove";
import { Quiet } from "../../shared/Quiet";
import { useStudyId } from "../../shared/study";
import { Swatch } from "../../shared/Swatch";
import type { WidgetProps } from "../SchemaForm";
import { useLegend } from "../subject";
import { type Becomes, BecomesSelect } from "./BecomesSelect";
import { WidgetLabel } from "./WidgetLabel";

interface Recoded {
  code: number;
  to: number;
  name?: string;
  colour?: string;
}

/** What each of the map's classes becomes; itself where nothing is said. */
export function RecodeWidget({ field, value, onChange }: WidgetProps) {
  const legend = useLegend();
  const table = Array.isArray(value) ? (value as Recoded[]) : [];
  const become = (code: number, to: Becomes) => {
    const others = table.filter((one) => one.code !== code);
    onChange(to.code === code ? others : [...others, recoded(code, to)]);
  };
  const parents = useParents();
  return (
    <>
      <WidgetLabel field={field} />
      {legend.map(({ code, name, colour }) => (
        <Flex key={code} align="center" gap="2" mt="1">
          <Text flex="1" truncate>
            <Swatch colour={colour} /> {name}
          </Text>
          <BecomesSelect
            label={`${name} becomes`}
            value={{ code: table.find((one) => one.code === code)?.to ?? code }}
            onValue={(to) => become(code, to)}
          />
        </Flex>
      ))}
      {parents.length > 0 && (
        <Flex mt="1">
          <Quiet type="button" onClick={() => onChange(parents)}>
            Join under the classes that they belong to
          </Quiet>
        </Flex>
      )}
    </>
  );
}

function recoded(code: number, { code: to, name = "", colour = "" }: Becomes): Recoded {
  return { code, to, name, colour };
}

/** By the map's classes that belong to another one, that one. */
function useParents(): Recoded[] {
  const legend = useLegend();
  const { data: classes = [] } = useClasses(useStudyId());
  return legend.flatMap(({ code }) => {
    const parent = classAbove(code, classes);
    return parent ? [recoded(code, parent)] : [];
  });
}
