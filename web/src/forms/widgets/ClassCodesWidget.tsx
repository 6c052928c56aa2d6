import type { WidgetProps } from "../SchemaForm";
import { useLegend } from "../subject";
import { ClassFold } from "./ClassFold";
import { WidgetLabel } from "./WidgetLabel";

/** Some of the map's classes; none means all. */
export function ClassCodesWidget({ field, value, onChange }: WidgetProps) {
  const legend = useLegend();
  return (
    <>
      <WidgetLabel field={field} />
      <ClassFold
        legend={legend}
        chosen={Array.isArray(value) ? (value as number[]) : []}
        onChosen={onChange}
        none="All classes"
      />
    </>
  );
}
