import { Input, NativeSelect, NumberInput } from "@chakra-ui/react";

import { OnOff } from "../shared/OnOff";
import type { FieldSchema } from "./SchemaForm";

interface Props {
  readonly field: FieldSchema;
  readonly value: unknown;
  readonly onChange: (value: unknown) => void;
}

/** A plain field of a generated form: choice, switch, text or number. */
export function SchemaInput({ field, value, onChange }: Props) {
  if (field.enum) {
    return (
      <NativeSelect.Root size="sm" bg="card">
        <NativeSelect.Field
          value={String(value)}
          onChange={(event) => onChange(event.currentTarget.value)}
        >
          {field.enum.map((option) => (
            <option key={option} value={option}>
              {field.choices?.[option] ?? option}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    );
  }
  if (field.type === "boolean") {
    return <OnOff on={value === true} onChange={onChange} />;
  }
  if (field.type === "string") {
    return (
      <Input
        size="sm"
        bg="card"
        value={typeof value === "string" ? value : ""}
        onChange={(event) => onChange(event.currentTarget.value)}
      />
    );
  }
  return <NumberField field={field} value={value} onChange={onChange} />;
}

function NumberField({ field, value, onChange }: Props) {
  return (
    <NumberInput.Root
      size="sm"
      width="8rem"
      bg="card"
      value={typeof value === "number" ? String(value) : ""}
      {...(field.minimum !== undefined && { min: field.minimum })}
      {...(field.maximum !== undefined && { max: field.maximum })}
      step={field.step ?? 1}
      onValueChange={(details) => {
        if (Number.isFinite(details.valueAsNumber)) onChange(details.valueAsNumber);
        else if (details.value === "" && field.optional) onChange(null);
      }}
    >
      <NumberInput.Control />
      <NumberInput.Input placeholder={field.optional ? "found" : ""} />
    </NumberInput.Root>
  );
}
