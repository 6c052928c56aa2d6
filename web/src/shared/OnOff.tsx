import { Switch } from "@chakra-ui/react";

interface Props {
  readonly on: boolean;
  readonly onChange: (on: boolean) => void;
  /** Where no other label stands beside it. */
  readonly label?: string;
}

/** A switch; its track tells on from off by colour, its knob by place. */
export function OnOff({ on, onChange, label }: Props) {
  return (
    <Switch.Root checked={on} onCheckedChange={(details) => onChange(details.checked)}>
      <Switch.HiddenInput />
      <Switch.Control borderWidth="1px" borderColor="quiet" _checked={{ bg: "cool" }}>
        <Switch.Thumb bg="quiet" _checked={{ bg: "card" }} />
      </Switch.Control>
      {label !== undefined && <Switch.Label>{label}</Switch.Label>}
    </Switch.Root>
  );
}
