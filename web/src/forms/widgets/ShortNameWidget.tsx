import type { WidgetProps } from "../SchemaForm";
import { TextField } from "../../shared/TextField";

/** A name for formulas and stacks: what cannot stand in one is left out while it is typed. */
export function ShortNameWidget({ field, value, onChange }: WidgetProps) {
  return (
    <TextField
      label={field.title ?? "Name"}
      help={field.description ?? ""}
      value={typeof value === "string" ? value : ""}
      maxLength={32}
      onText={(text) => onChange(text.toLowerCase().replace(/[^a-z0-9_]/g, "_"))}
    />
  );
}
