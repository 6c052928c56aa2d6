import { Input, Text } from "@chakra-ui/react";

import { roleWords, type Vocabulary } from "./roles";

interface Props {
  readonly label: string;
  readonly value: string;
  readonly known: Vocabulary;
  readonly onRole: (role: string) => void;
}

/** What a band sees: a role that is known, with its words, or any other small word. */
export function RoleField({ label, value, known, onRole }: Props) {
  const words = known.get(value)?.title;
  return (
    <>
      <Input
        size="2xs"
        width="7.4rem"
        bg="card"
        list="band-roles"
        aria-label={label}
        placeholder="what it sees"
        borderColor={value === "" ? "caution" : "line"}
        value={value}
        onChange={(event) => onRole(event.currentTarget.value.trim().toLowerCase())}
      />
      <Text color="quiet" fontSize="0.92rem" lineHeight="1.2" maxW="7.4rem" whiteSpace="normal">
        {words === value ? "" : words}
      </Text>
      <datalist id="band-roles">
        {[...known.values()].map((role) => (
          <option key={role.id} value={role.id}>
            {roleWords(role)}
          </option>
        ))}
      </datalist>
    </>
  );
}
