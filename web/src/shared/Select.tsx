import { Field, NativeSelect } from "@chakra-ui/react";

export interface Option {
  readonly value: string;
  readonly label: string;
}

interface Props {
  readonly label: string;
  /** The label is read but not seen. */
  readonly hideLabel?: boolean;
  readonly value: string;
  readonly options: readonly Option[];
  readonly onValue: (value: string) => void;
  readonly width?: string;
  readonly help?: string;
}

/** Choose one of a few. */
export function Select({ label, hideLabel, value, options, onValue, width, help }: Props) {
  return (
    <Field.Root width={width ?? "auto"}>
      {!hideLabel && <Field.Label>{label}</Field.Label>}
      <NativeSelect.Root size="sm" bg="card">
        <NativeSelect.Field
          aria-label={label}
          value={value}
          onChange={(event) => onValue(event.currentTarget.value)}
        >
          {options.map((option) => (
            <option key={option.value} value={option.value}>
              {option.label}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      {help !== undefined && <Field.HelperText color="quiet">{help}</Field.HelperText>}
    </Field.Root>
  );
}
