import { Text } from "@chakra-ui/react";

import type { FieldSchema } from "../SchemaForm";

/** Title and explanation of a field that is drawn by a piece of its own. */
export function WidgetLabel({ field }: { readonly field: FieldSchema }) {
  return (
    <>
      <Text fontWeight="500">{field.title}</Text>
      <Text color="quiet" mb="1">
        {field.description}
      </Text>
    </>
  );
}
