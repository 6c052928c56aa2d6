import { CheckLines } from "../../shared/CheckLines";
import { Folded } from "../../shared/Folded";
import { Swatch } from "../../shared/Swatch";
import type { WidgetProps } from "../SchemaForm";
import { useFormSubject } from "../subject";
import { WidgetLabel } from "./WidgetLabel";

/** Some of the map's classes; none means all. */
export function ClassCodesWidget({ field, value, onChange }: WidgetProps) {
  const { legend = [] } = useFormSubject();
  const picked = Array.isArray(value) ? (value as number[]) : [];
  const names = legend.filter(({ code }) => picked.includes(code)).map(({ name }) => name);
  const lines = legend.map(({ code, name, colour }) => ({
    id: code,
    label: (
      <>
        <Swatch colour={colour} /> {name}
      </>
    ),
  }));
  return (
    <>
      <WidgetLabel field={field} />
      <Folded title={names.length > 0 ? names.join(", ") : "All classes"} mt="0.5">
        <CheckLines lines={lines} chosen={picked} onChosen={onChange} />
      </Folded>
    </>
  );
}
