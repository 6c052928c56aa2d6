import { Box, Checkbox, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import { useIndices } from "../../api/queries/deriveAids";
import type { SpectralIndex } from "../../api/types";
import { Quiet } from "../../shared/Quiet";
import { Select } from "../../shared/Select";
import type { WidgetProps } from "../SchemaForm";
import { useFormScene } from "../subject";
import { IndexFacts } from "./IndexFacts";

const USES = ["vegetation", "water", "soil", "burn", "built-up", "snow", "cloud"] as const;
const FEW = 12;
const NONE: readonly string[] = [];

/** The published indices: found by name or by use, several ticked at once: each makes a layer. */
export function IndexWidget({ value, values, onChange, onValues }: WidgetProps) {
  const scene = useFormScene();
  const { data = [], isPending } = useIndices(scene.id);
  const indices = Array.isArray(value) ? (value as string[]) : NONE;
  const [text, setText] = useState("");
  const [use, setUse] = useState("usual");
  const [all, setAll] = useState(false);
  const found = findIndices(data, text, use);
  const shown = all ? found : found.slice(0, FEW);
  const last = data.find((one) => one.id === indices.at(-1));
  const toggle = (id: string) =>
    onChange(indices.includes(id) ? indices.filter((one) => one !== id) : [...indices, id]);
  return (
    <>
      <Flex gap="2">
        <Input
          size="sm"
          bg="card"
          aria-label="Find an index"
          placeholder={data.length > 0 ? `Find among ${data.length}` : "Find an index"}
          value={text}
          onChange={(event) => setText(event.currentTarget.value)}
        />
        <Select
          label="Use"
          hideLabel
          width="17rem"
          value={use}
          options={[
            { value: "usual", label: "the usual ones" },
            ...USES.map((one) => ({ value: one, label: one })),
            { value: "", label: "all uses" },
          ]}
          onValue={setUse}
        />
      </Flex>
      <Box mt="1.5" maxH="13.5rem" overflowY="auto" role="group" aria-label="Indices">
        {shown.map((index) => (
          <IndexRow
            key={index.id}
            index={index}
            ticked={indices.includes(index.id)}
            onTick={() => toggle(index.id)}
          />
        ))}
        {shown.length < found.length && (
          <Quiet type="button" mt="1" onClick={() => setAll(true)}>
            All {found.length}
          </Quiet>
        )}
      </Box>
      {!isPending && found.length === 0 && <Text color="quiet">No index is called that.</Text>}
      {last && <IndexFacts index={last} values={values} onValues={onValues} />}
    </>
  );
}

/** What the words and the use leave; what the scene can give stands first. */
function findIndices(data: SpectralIndex[], text: string, use: string): SpectralIndex[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const fits = (one: SpectralIndex) => {
    const name = `${one.symbol} ${one.title}`.toLowerCase();
    if (words.length > 0 && use === "usual") return words.every((word) => name.includes(word));
    const used = use === "usual" ? one.usual : use === "" || one.use === use;
    return used && words.every((word) => name.includes(word));
  };
  const rank = (one: SpectralIndex) =>
    (one.missing.length > 0 ? 2 : 0) + (one.symbol.toLowerCase() === words[0] ? -1 : 0);
  return data.filter(fits).sort((a, b) => rank(a) - rank(b));
}

interface RowProps {
  readonly index: SpectralIndex;
  readonly ticked: boolean;
  readonly onTick: () => void;
}

function IndexRow({ index, ticked, onTick }: RowProps) {
  const missing = index.missing.join(", ");
  return (
    <Checkbox.Root
      display="flex"
      alignItems="baseline"
      size="sm"
      py="0.5"
      checked={ticked}
      disabled={missing !== "" && !ticked}
      onCheckedChange={onTick}
    >
      <Checkbox.HiddenInput />
      <Checkbox.Control />
      <Checkbox.Label fontSize="1rem" lineHeight="1.3">
        <b>{index.symbol}</b> {index.title}
        {missing !== "" && <Text color="quiet">needs {missing}</Text>}
      </Checkbox.Label>
    </Checkbox.Root>
  );
}
