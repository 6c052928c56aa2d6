import { Field, Input, type InputProps } from "@chakra-ui/react";

interface Props extends Omit<InputProps, "onChange" | "value"> {
  readonly label: string;
  readonly value: string;
  readonly help?: string;
  readonly onText: (text: string) => void;
}

/** One line of text, a number or a date under its label. */
export function TextField({ label, value, help, onText, width, flex, ...rest }: Props) {
  return (
    <Field.Root width={width ?? "auto"} flex={flex ?? "initial"}>
      <Field.Label>{label}</Field.Label>
      <Input
        size="sm"
        bg="card"
        value={value}
        onChange={(event) => onText(event.currentTarget.value)}
        {...rest}
      />
      {help !== undefined && <Field.HelperText color="quiet">{help}</Field.HelperText>}
    </Field.Root>
  );
}
