import { CheckList } from "../../shared/CheckList";
import type { FieldSchema, WidgetProps } from "../SchemaForm";

/** The texture measures that are kept. */
export function MeasuresWidget({ field, value, onChange }: WidgetProps) {
  const { items } = field as FieldSchema & { items?: { enum?: string[] } };
  return (
    <CheckList
      title={field.title ?? "Measures"}
      options={items?.enum ?? []}
      chosen={Array.isArray(value) ? (value as string[]) : []}
      onChosen={onChange}
    />
  );
}
