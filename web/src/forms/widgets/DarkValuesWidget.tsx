import { Text } from "@chakra-ui/react";

import { sentenceOf } from "../../api/problem";
import { useDarkValues } from "../../api/queries/corrections";
import { Remark } from "../../shared/Remark";
import type { WidgetProps } from "../SchemaForm";
import { useFormSubject } from "../subject";
import { DarkHistogram } from "./DarkHistogram";
import { WidgetLabel } from "./WidgetLabel";

/** Each band's dark value on its histogram, found or moved by hand. */
export function DarkValuesWidget({ field, value, values, onChange }: WidgetProps) {
  const { chosen } = useFormSubject();
  const [scene] = chosen;
  const share = values["foot_percent"];
  const { data: found, error } = useDarkValues(scene?.id ?? null, {
    foot_percent: typeof share === "number" ? share : 0.1,
    area: (values["area"] ?? null) as Record<string, unknown> | null,
  });
  if (!scene) {
    return <Text color="quiet">Choose a scene above, to see its dark values.</Text>;
  }
  return (
    <>
      <WidgetLabel field={field} />
      {error && <Remark tone="problem">{sentenceOf(error)}</Remark>}
      {found && (
        <DarkHistogram
          scene={scene}
          found={found}
          // Values moved by hand belong to one scene; of many, each gets its own.
          moved={chosen.length > 1 ? {} : ((value ?? {}) as Record<string, number>)}
          onMoved={chosen.length > 1 ? null : onChange}
        />
      )}
    </>
  );
}
