import type { WidgetProps } from "../../../shared/SchemaForm";
import { Select } from "../../../shared/Select";
import { useDeriveScene } from "../useDeriveScene";
import { useOtherLayers } from "../useOtherLayers";

/** A band of the scene, or any other layer of the study by the name that formulas use. */
export function LayerNameWidget({ field, value, onChange }: WidgetProps) {
  const { scene } = useDeriveScene();
  const others = useOtherLayers(scene);
  return (
    <Select
      label={field.title ?? "Layer"}
      value={typeof value === "string" ? value : ""}
      options={[
        ...scene.bands.map(({ role }) => ({ value: role, label: role })),
        ...others.map(({ name, role, title }) => ({ value: name, label: `${role}, ${title}` })),
      ]}
      onValue={onChange}
    />
  );
}
