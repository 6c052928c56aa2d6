import { Button, Flex, Input } from "@chakra-ui/react";
import { useState } from "react";

interface Props {
  /** For screen readers. */
  readonly label: string;
  readonly placeholder: string;
  readonly saving: boolean;
  /** ``done`` empties the field. */
  readonly onSave: (name: string, done: () => void) => void;
}

/** A name to save something under. */
export function SaveAs({ label, placeholder, saving, onSave }: Props) {
  const [name, setName] = useState("");
  return (
    <Flex gap="2" mt="1.5">
      <Input
        size="xs"
        bg="card"
        aria-label={label}
        placeholder={placeholder}
        maxLength={120}
        value={name}
        onChange={(event) => setName(event.currentTarget.value)}
      />
      <Button
        size="xs"
        variant="outline"
        borderColor="line"
        disabled={name.trim() === ""}
        loading={saving}
        onClick={() => onSave(name, () => setName(""))}
      >
        Save
      </Button>
    </Flex>
  );
}
