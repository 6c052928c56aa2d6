import { Flex } from "@chakra-ui/react";

import { sentenceOf } from "../../api/problem";
import { useTellSurety } from "../../api/queries/trained";
import { Quiet } from "../../shared/Quiet";
import { Remark } from "../../shared/Remark";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import type { WidgetProps } from "../SchemaForm";
import { useFormSubject } from "../subject";

/** The layer with the shares of the map's classes; made of it where there is none yet. */
export function SharesWidget({ field, value, onChange }: WidgetProps) {
  const { scenes, map } = useFormSubject();
  const tell = useTellSurety(useStudyId());
  const layers = scenes.filter(({ bands }) => bands.some(({ role }) => role.startsWith("share_")));
  const known = layers.some(({ id }) => id === value);
  return (
    <>
      <Select
        label={field.title ?? "Shares"}
        help={field.description ?? ""}
        value={known ? String(value) : ""}
        options={[
          ...(known && !field.none ? [] : [{ value: "", label: field.none ?? "choose a layer" }]),
          ...layers.map(({ id, title }) => ({ value: String(id), label: title })),
        ]}
        onValue={(id) => onChange(id === "" ? null : Number(id))}
      />
      {map && !known && (!field.none || layers.length === 0) && (
        <Flex mt="1">
          <Quiet
            type="button"
            disabled={tell.isPending}
            onClick={() =>
              tell.mutate(
                { layerId: map.id, give: ["shares"], level: 0.9 },
                { onSuccess: ({ id }) => onChange(id) },
              )
            }
          >
            Make the shares of this map
          </Quiet>
        </Flex>
      )}
      {tell.error && <Remark tone="problem">{sentenceOf(tell.error)}</Remark>}
    </>
  );
}
