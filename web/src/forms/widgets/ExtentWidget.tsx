import { Flex, Text } from "@chakra-ui/react";

import { extentShown } from "../../map";
import { formatFixed } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import type { WidgetProps } from "../SchemaForm";
import { useWork } from "../../shared/workStore";
import { WidgetLabel } from "./WidgetLabel";

type Extent = Record<"left" | "bottom" | "right" | "top", number>;

/** A rectangle: what the panes show just now. */
export function ExtentWidget({ field, value, onChange }: WidgetProps) {
  const linked = useWork((store) => store.linked);
  const extent = value as Extent | null | undefined;
  return (
    <>
      <WidgetLabel field={field} />
      {extent && (
        <Text>
          {formatFixed(extent.left, 0)} to {formatFixed(extent.right, 0)},{" "}
          {formatFixed(extent.bottom, 0)} to {formatFixed(extent.top, 0)}
        </Text>
      )}
      <Flex gap="3">
        <Quiet
          type="button"
          disabled={!linked}
          onClick={() => linked && onChange(extentShown(linked))}
        >
          Use what the panes show
        </Quiet>
        {extent && (
          <Quiet type="button" onClick={() => onChange(null)}>
            none
          </Quiet>
        )}
      </Flex>
    </>
  );
}
