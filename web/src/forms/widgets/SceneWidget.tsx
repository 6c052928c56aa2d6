import { Select } from "../../shared/Select";
import type { WidgetProps } from "../SchemaForm";
import { useFormSubject } from "../subject";

/** Another scene of the study. */
export function SceneWidget({ field, value, onChange }: WidgetProps) {
  const { scenes } = useFormSubject();
  return (
    <Select
      label={field.title ?? "Scene"}
      help={field.description ?? ""}
      value={typeof value === "number" ? String(value) : ""}
      options={[
        { value: "", label: field.optional ? "none" : "choose a scene" },
        ...scenes.map((scene) => ({ value: String(scene.id), label: scene.title })),
      ]}
      onValue={(id) => onChange(id === "" ? null : Number(id))}
    />
  );
}
