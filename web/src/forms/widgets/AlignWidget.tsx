import { Text } from "@chakra-ui/react";

import { Quiet } from "../../shared/Quiet";
import type { WidgetProps } from "../SchemaForm";

/** Only seen once it was asked for, where grids differ. */
export function AlignWidget({ field, value, onChange }: WidgetProps) {
  if (value !== true) return null;
  return (
    <Text>
      {field.description}{" "}
      <Quiet type="button" onClick={() => onChange(false)}>
        Do not
      </Quiet>
    </Text>
  );
}
