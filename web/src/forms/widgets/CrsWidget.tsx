import { CrsField } from "../../shared/CrsField";
import type { WidgetProps } from "../SchemaForm";

export function CrsWidget({ field, value, onChange }: WidgetProps) {
  return (
    <CrsField
      label={field.title ?? "Coordinate system"}
      help={field.description ?? ""}
      value={typeof value === "string" ? value : null}
      onCrs={onChange}
    />
  );
}
