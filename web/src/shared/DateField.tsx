import { Field, Input } from "@chakra-ui/react";
import { useState } from "react";

import { parseDay } from "./day";
import { formatDate } from "./format";

interface Props {
  readonly label: string;
  /** The label is read but not seen. */
  readonly hideLabel?: boolean;
  /** Year-month-day, or nothing. */
  readonly value: string;
  /** Nothing for an emptied field. */
  readonly onDay: (day: string) => void;
  readonly width?: string;
  readonly flex?: string;
}

/** A day, written as everywhere else, whatever the browser's language. */
export function DateField({ label, hideLabel, value, onDay, width = "auto", flex }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const shown = typed ?? (value === "" ? "" : formatDate(value));
  const wrong = shown.trim() !== "" && parseDay(shown) === null;
  const tell = (text: string) => {
    setTyped(text);
    const day = text.trim() === "" ? "" : parseDay(text);
    if (day !== null) onDay(day);
  };
  return (
    <Field.Root width={width} flex={flex ?? "initial"} invalid={wrong}>
      {!hideLabel && <Field.Label>{label}</Field.Label>}
      <Input
        size={hideLabel ? "xs" : "sm"}
        bg="card"
        aria-label={label}
        title={`${label}, as 18 July 2024 or 2024-07-18`}
        placeholder="day month year"
        value={shown}
        onChange={(event) => tell(event.currentTarget.value)}
        onBlur={() => {
          if (!wrong) setTyped(null);
        }}
      />
      {wrong && <Field.ErrorText>Write a day as 18 July 2024 or 2024-07-18.</Field.ErrorText>}
    </Field.Root>
  );
}
