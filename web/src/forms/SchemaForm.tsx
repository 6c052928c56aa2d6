import { Box, Field } from "@chakra-ui/react";
import type { ComponentType } from "react";

import { SchemaInput } from "./SchemaInput";
import { WIDGETS } from "./widgets";

export interface FieldSchema {
  title?: string;
  description?: string;
  type?: string;
  enum?: string[];
  /** How each of the values of a choice is called. */
  choices?: Record<string, string>;
  default?: unknown;
  minimum?: number;
  maximum?: number;
  exclusiveMinimum?: number;
  step?: number;
  /** Which piece draws the field, when it is no plain number, choice or switch. */
  widget?: string;
  /** The name of a field whose value this one may not have. */
  differs_from?: string;
  /** What choosing nothing is called, where that may be chosen. */
  none?: string;
  /** May be left empty. */
  optional?: boolean;
}

export type Values = Record<string, unknown>;

export interface WidgetProps {
  readonly name: string;
  readonly field: FieldSchema;
  readonly value: unknown;
  readonly values: Values;
  readonly onChange: (value: unknown) => void;
  /** For a piece that sets other fields along with its own. */
  readonly onValues: (values: Values) => void;
}

export type Widgets = Record<string, ComponentType<WidgetProps>>;

interface Props {
  /** JSON schema of an operation's settings; the form is drawn from it. */
  readonly schema: Record<string, unknown>;
  readonly values: Values;
  readonly onChange: (values: Values) => void;
}

export function SchemaForm({ schema, values, onChange }: Props) {
  const properties = (schema["properties"] ?? {}) as Record<string, RawField>;
  return Object.entries(properties).map(([name, raw]) => {
    const field = flatten(raw);
    if (field.widget === "hidden") return null;
    const Widget = field.widget === undefined ? undefined : WIDGETS[field.widget];
    const value = values[name] ?? field.default;
    const change = (next: unknown) => {
      const other = field.differs_from;
      const taken = other !== undefined && next === (values[other] ?? properties[other]?.default);
      // Two that must differ change places, so that no choice is ever refused.
      onChange({ ...values, ...(taken && { [other]: value }), [name]: next });
    };
    if (Widget) {
      return (
        <Box key={name} mt="2.5">
          <Widget
            name={name}
            field={field}
            value={value}
            values={values}
            onChange={change}
            onValues={onChange}
          />
        </Box>
      );
    }
    return (
      <Field.Root key={name} mt="2.5" orientation="vertical">
        <Field.Label>{field.title ?? name}</Field.Label>
        <SchemaInput field={field} value={value} onChange={change} />
        <Field.HelperText color="quiet">{field.description}</Field.HelperText>
      </Field.Root>
    );
  });
}

type RawField = FieldSchema & { anyOf?: FieldSchema[] };

/** What may be left empty is written as one of two kinds; the other kind is what counts. */
function flatten({ anyOf, ...field }: RawField): FieldSchema {
  const kind = anyOf?.find((one) => one.type !== "null");
  return kind ? { ...kind, ...field, optional: true } : field;
}
