import { CheckList } from "../../../shared/CheckList";
import type { WidgetProps } from "../../../shared/SchemaForm";
import { Select } from "../../../shared/Select";
import { useDeriveScene } from "../useDeriveScene";

/** One band of the scene. */
export function RoleWidget({ field, value, onChange }: WidgetProps) {
  const { scene } = useDeriveScene();
  const roles = scene.bands.map((band) => band.role);
  const known = typeof value === "string" && roles.includes(value);
  return (
    <Select
      label={field.title ?? "Band"}
      value={known ? value : ""}
      options={[
        ...(known ? [] : [{ value: "", label: "choose a band" }]),
        ...roles.map((role) => ({ value: role, label: role })),
      ]}
      onValue={onChange}
    />
  );
}

/** Some bands of the scene; none chosen means all. */
export function RolesWidget({ field, value, onChange }: WidgetProps) {
  const { scene } = useDeriveScene();
  return (
    <CheckList
      title={field.title ?? "Bands"}
      help={field.description}
      options={scene.bands.map((band) => band.role)}
      chosen={Array.isArray(value) ? (value as string[]) : []}
      onChosen={onChange}
    />
  );
}
