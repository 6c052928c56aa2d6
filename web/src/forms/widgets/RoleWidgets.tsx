import { CheckList } from "../../shared/CheckList";
import type { WidgetProps } from "../SchemaForm";
import { Select } from "../../shared/Select";
import { useFormSubject } from "../subject";

/** One band of the scenes that the settings are for. */
export function RoleWidget({ field, value, onChange }: WidgetProps) {
  const roles = useRoles();
  const known = typeof value === "string" && roles.includes(value);
  return (
    <Select
      label={field.title ?? "Band"}
      help={field.description ?? ""}
      value={known ? value : ""}
      options={[
        ...(known ? [] : [{ value: "", label: "choose a band" }]),
        ...roles.map((role) => ({ value: role, label: role })),
      ]}
      onValue={onChange}
    />
  );
}

function useRoles(): string[] {
  const { scenes, chosen } = useFormSubject();
  const of = chosen.length > 0 ? chosen : scenes;
  return [...new Set(of.flatMap((scene) => scene.bands.map((band) => band.role)))];
}

/** Some of their bands; none chosen means all. */
export function RolesWidget({ field, value, onChange }: WidgetProps) {
  const roles = useRoles();
  return (
    <CheckList
      title={field.title ?? "Bands"}
      help={field.description}
      options={roles}
      chosen={Array.isArray(value) ? (value as string[]) : []}
      onChosen={onChange}
    />
  );
}
