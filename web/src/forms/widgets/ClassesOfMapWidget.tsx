import { Text } from "@chakra-ui/react";

import { useMaps } from "../../api/queries/maps";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import type { WidgetProps } from "../SchemaForm";
import { ClassFold } from "./ClassFold";
import { WidgetLabel } from "./WidgetLabel";

interface MapClasses {
  layer_id: number;
  codes: number[];
}

/** A class map, and some of its classes. */
export function ClassesOfMapWidget({ field, value, onChange }: Omit<WidgetProps, "onValues">) {
  const { data: maps = [] } = useMaps(useStudyId());
  const { layer_id, codes } = (value ?? { layer_id: 0, codes: [] }) as MapClasses;
  const map = maps.find(({ id }) => id === layer_id);
  return (
    <>
      <WidgetLabel field={field} />
      {maps.length === 0 && <Text>There is no class map yet.</Text>}
      <Select
        label="Class map"
        hideLabel
        value={map ? String(map.id) : ""}
        options={[
          ...(map ? [] : [{ value: "", label: "choose a map" }]),
          ...maps.map(({ id, title }) => ({ value: String(id), label: title })),
        ]}
        onValue={(id) => onChange({ layer_id: Number(id), codes: [] })}
      />
      {map && (
        <ClassFold
          legend={map.legend}
          chosen={codes}
          onChosen={(next) => onChange({ layer_id, codes: next })}
          none="Choose classes"
        />
      )}
    </>
  );
}
