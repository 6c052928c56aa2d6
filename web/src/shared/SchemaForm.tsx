import { Field, NativeSelect, NumberInput, Switch } from "@chakra-ui/react";

export interface FieldSchema {
  title?: string;
  description?: string;
  type?: string;
  enum?: string[];
  default?: unknown;
  minimum?: number;
  maximum?: number;
  step?: number;
}

export type Values = Record<string, unknown>;

interface Props {
  /** JSON schema of an operation's settings; the form is drawn from it. */
  readonly schema: Record<string, unknown>;
  readonly values: Values;
  readonly onChange: (values: Values) => void;
}

export function SchemaForm({ schema, values, onChange }: Props) {
  const fields = Object.entries((schema["properties"] ?? {}) as Record<string, FieldSchema>);
  return fields.map(([name, field]) => (
    <Field.Root key={name} mt="2.5" orientation="vertical">
      <Field.Label>{field.title ?? name}</Field.Label>
      <FieldInput
        field={field}
        value={values[name] ?? field.default}
        onChange={(value) => onChange({ ...values, [name]: value })}
      />
      <Field.HelperText color="quiet">{field.description}</Field.HelperText>
    </Field.Root>
  ));
}

interface InputProps {
  readonly field: FieldSchema;
  readonly value: unknown;
  readonly onChange: (value: unknown) => void;
}

function FieldInput({ field, value, onChange }: InputProps) {
  if (field.enum) {
    return (
      <NativeSelect.Root size="sm" bg="card">
        <NativeSelect.Field
          value={String(value)}
          onChange={(event) => onChange(event.currentTarget.value)}
        >
          {field.enum.map((option) => (
            <option key={option}>{option}</option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    );
  }
  if (field.type === "boolean") {
    return (
      <Switch.Root
        checked={value === true}
        onCheckedChange={(details) => onChange(details.checked)}
      >
        <Switch.HiddenInput />
        <Switch.Control />
      </Switch.Root>
    );
  }
  return (
    <NumberInput.Root
      size="sm"
      width="8rem"
      bg="card"
      value={String(value)}
      {...(field.minimum !== undefined && { min: field.minimum })}
      {...(field.maximum !== undefined && { max: field.maximum })}
      step={field.step ?? 1}
      onValueChange={(details) => {
        if (Number.isFinite(details.valueAsNumber)) onChange(details.valueAsNumber);
      }}
    >
      <NumberInput.Control />
      <NumberInput.Input />
    </NumberInput.Root>
  );
}
