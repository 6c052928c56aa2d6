import { Flex } from "@chakra-ui/react";

import { AreaList } from "../../shared/AreaList";
import { Quiet } from "../../shared/Quiet";
import type { WidgetProps } from "../SchemaForm";
import { useWork } from "../../shared/workStore";
import { Used } from "./Used";
import { WidgetLabel } from "./WidgetLabel";

/** One area: the first of those in hand, or none. */
export function AreaWidget({ field, value, onChange }: WidgetProps) {
  const areas = useWork((store) => store.areas);
  const [first] = areas;
  return (
    <>
      <WidgetLabel field={field} />
      {value ? (
        <Used what="A drawn area is used" onNone={() => onChange(null)} />
      ) : (
        <>
          <AreaList />
          <Flex mt="1">
            <Quiet
              type="button"
              disabled={!first}
              onClick={() => first && onChange({ ...first.outline })}
            >
              {first ? `Use ${first.name}` : "Draw one, to use it"}
            </Quiet>
          </Flex>
        </>
      )}
    </>
  );
}

/** All areas in hand. */
export function AreasWidget({ field, value, onChange }: WidgetProps) {
  const areas = useWork((store) => store.areas);
  const used = Array.isArray(value) ? value.length : 0;
  return (
    <>
      <WidgetLabel field={field} />
      {used > 0 ? (
        <Used
          what={used === 1 ? "One area is used" : `${used} areas are used`}
          onNone={() => onChange([])}
        />
      ) : (
        <>
          <AreaList />
          <Flex mt="1">
            <Quiet
              type="button"
              disabled={areas.length === 0}
              onClick={() => onChange(areas.map((area) => ({ ...area.outline })))}
            >
              {areas.length === 0
                ? "Draw or read one, to use it"
                : `Use ${areas.length === 1 ? "this area" : `these ${areas.length} areas`}`}
            </Quiet>
          </Flex>
        </>
      )}
    </>
  );
}
