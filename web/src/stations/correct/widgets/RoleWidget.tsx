import { Select } from "../../../shared/Select";
import type { WidgetProps } from "../../../shared/SchemaForm";
import { useChosenScenes } from "../useChosenScenes";

export function RoleWidget({ field, value, onChange }: WidgetProps) {
  const { scenes, chosen } = useChosenScenes();
  const of = chosen.length > 0 ? chosen : scenes;
  const roles = [...new Set(of.flatMap((scene) => scene.bands.map((band) => band.role)))];
  return (
    <Select
      label={field.title ?? "Band"}
      help={field.description ?? ""}
      value={typeof value === "string" ? value : ""}
      options={roles.map((role) => ({ value: role, label: role }))}
      onValue={onChange}
    />
  );
}
