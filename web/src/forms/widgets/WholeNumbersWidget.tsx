import { Field, Input } from "@chakra-ui/react";
import { useState } from "react";

import type { WidgetProps } from "../SchemaForm";

/** A few whole numbers with commas between; taken as soon as they are such. */
export function WholeNumbersWidget({ name, field, value, onChange }: WidgetProps) {
  const [text, setText] = useState<string | null>(null);
  const shown = text ?? (Array.isArray(value) ? value.join(", ") : "");
  const tell = (next: string) => {
    setText(next);
    const numbers = parseWholeNumbers(next);
    if (numbers) onChange(numbers);
  };
  const wrong = parseWholeNumbers(shown) === null;
  return (
    <Field.Root invalid={wrong}>
      <Field.Label>{field.title ?? name}</Field.Label>
      <Input
        size="sm"
        bg="card"
        width="8rem"
        value={shown}
        onChange={(event) => tell(event.currentTarget.value)}
        onBlur={() => setText(null)}
      />
      <Field.HelperText color="quiet">{field.description}</Field.HelperText>
      <Field.ErrorText>Whole numbers above 0, with commas between.</Field.ErrorText>
    </Field.Root>
  );
}

/** Null where it is not yet what it should be. */
export function parseWholeNumbers(text: string): number[] | null {
  const parts = text.split(",").map((part) => part.trim());
  const good = parts.every((part) => /^[1-9]\d{0,4}$/.test(part));
  return good ? parts.map(Number) : null;
}
