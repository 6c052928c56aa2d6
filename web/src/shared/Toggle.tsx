import { Button, type ButtonProps } from "@chakra-ui/react";

interface Props extends ButtonProps {
  readonly label: string;
  readonly on: boolean;
}

/** A button that stays pressed while what it names is so. */
export function Toggle({ label, on, ...rest }: Props) {
  return (
    <Button
      size="xs"
      variant={on ? "solid" : "outline"}
      bg={on ? "cool" : "card"}
      color={on ? "card" : "ink"}
      borderColor="line"
      aria-pressed={on}
      {...rest}
    >
      {label}
    </Button>
  );
}
