import { Box, Text } from "@chakra-ui/react";
import { useState } from "react";

import { useCrsSearch } from "../api/queries/deliveries";
import { Choice } from "./Choice";
import { TextField } from "./TextField";

interface Props {
  readonly label: string;
  readonly value: string | null;
  readonly help?: string;
  readonly onCrs: (code: string | null) => void;
}

/** A coordinate system by code, or by words of its name and area. */
export function CrsField({ label, value, help, onCrs }: Props) {
  const [text, setText] = useState(value ?? "");
  const { data: found = [] } = useCrsSearch(text);
  const chosen = found.find((entry) => entry.code === value);
  const asks = text.trim().length > 1 && value !== text;
  const type = (next: string) => {
    setText(next);
    if (value !== null) onCrs(null);
  };
  return (
    <Box width="100%" maxW="26rem">
      <TextField
        label={label}
        value={text}
        placeholder="Code, or words of its name: 32625, UTM 25N"
        onText={type}
        {...(help !== undefined && { help })}
      />
      {chosen && (
        <Text color="quiet" mt="1">
          {chosen.name} · {chosen.area}
        </Text>
      )}
      {asks && (
        <Box maxH="11rem" overflowY="auto" borderWidth="1px" borderColor="line" mt="1" bg="card">
          {found.length === 0 && (
            <Text color="quiet" px="2" py="1">
              No coordinate system of that name.
            </Text>
          )}
          {found.map((entry) => (
            <Choice
              key={entry.code}
              title={`${entry.code} · ${entry.name}`}
              note={entry.area}
              chosen={false}
              onChoose={() => {
                setText(entry.code);
                onCrs(entry.code);
              }}
            />
          ))}
        </Box>
      )}
    </Box>
  );
}
