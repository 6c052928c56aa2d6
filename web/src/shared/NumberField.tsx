import { Box, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

interface Props {
  /** Read, and shown as a tooltip. */
  readonly label: string;
  readonly value: number | null;
  readonly isGood?: (value: number) => boolean;
  readonly step?: number | "any";
  readonly width?: string;
  readonly placeholder?: string;
  /** What is wrong with a number that is not good. */
  readonly problem?: string;
  /** Taken when the field is left, or with Enter: where the first digits mean something else. */
  readonly whenLeft?: boolean;
  readonly onNumber: (value: number) => void;
  /** What an empty field means; without it, empty is wrong. */
  readonly onEmpty?: () => void;
}

/** A number that is taken as soon as it is good, or when it is left; what is being typed is never
 * overwritten. */
export function NumberField(props: Props) {
  const { label, value, isGood = () => true, step = "any", width = "5.5rem", whenLeft } = props;
  const [text, setText] = useState<string | null>(null);
  const shown = text ?? (value === null ? "" : String(value));
  const wrong = shown === "" ? props.onEmpty === undefined : !isNumber(shown, isGood);
  const tell = (next: string) => {
    if (next === "") props.onEmpty?.();
    else if (isNumber(next, isGood)) props.onNumber(Number(next));
  };
  const input = (
    <Input
      size="xs"
      type="number"
      step={step}
      width={width}
      bg="card"
      aria-label={label}
      aria-invalid={wrong || undefined}
      title={label}
      placeholder={props.placeholder}
      value={shown}
      onChange={({ currentTarget }) => {
        setText(currentTarget.value);
        if (!whenLeft) tell(currentTarget.value);
      }}
      onKeyDown={({ key, currentTarget }) => {
        if (key === "Enter" && whenLeft) currentTarget.blur();
      }}
      onBlur={() => {
        if (whenLeft && text !== null) tell(text);
        setText(null);
      }}
    />
  );
  if (props.problem === undefined) return input;
  return (
    <Box>
      {input}
      {wrong && (
        <Text color="warmText" role="alert">
          {props.problem}
        </Text>
      )}
    </Box>
  );
}

function isNumber(text: string, isGood: (value: number) => boolean): boolean {
  const value = Number(text);
  return text.trim() !== "" && Number.isFinite(value) && isGood(value);
}
