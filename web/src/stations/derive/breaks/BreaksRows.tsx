import { Box, Flex, Input, Text } from "@chakra-ui/react";

import type { BreakCounts } from "../../../api/types";
import { UNCLASSIFIED_CODE } from "../../../shared/classCode";
import { NumberField } from "../../../shared/NumberField";
import { Quiet } from "../../../shared/Quiet";
import { useBreaksStore, type DraftRow } from "./breaksStore";
import { addRow, changeRow } from "./limits";

interface Props {
  readonly counts: BreakCounts | undefined;
}

/** The table: colour, name, limits, and the share of the pixels. */
export function BreaksRows({ counts }: Props) {
  const { rows, setRows } = useBreaksStore();
  const outside = counts?.classes.find(({ code }) => code === UNCLASSIFIED_CODE);
  return (
    <Box mt="2" role="group" aria-label="Class breaks">
      {rows.length > 0 && (
        <Flex gap="1" color="quiet" fontSize="0.92em">
          <Text flex="1" ps="8">
            Class
          </Text>
          <Text width="4.9rem">from</Text>
          <Text width="4.9rem">to</Text>
          <Text width="2.8rem" textAlign="end">
            %
          </Text>
          <Box width="1.2rem" />
        </Flex>
      )}
      {rows.map((row) => (
        <BreaksRow
          key={row.key}
          row={row}
          percent={counts?.classes.find(({ code }) => code === row.code)?.percent ?? 0}
          onRow={(part) =>
            setRows(rows.map((one) => (one.key === row.key ? changeRow(one, part) : one)))
          }
          onRemove={() => setRows(rows.filter((one) => one.key !== row.key))}
        />
      ))}
      {outside && (
        <Flex color="quiet">
          <Text flex="1">In no class</Text>
          <Text pe="6">{outside.percent.toFixed(1)}</Text>
        </Flex>
      )}
      <Quiet type="button" mt="1" onClick={() => setRows(addRow(rows))}>
        Add a class
      </Quiet>
    </Box>
  );
}

interface RowProps {
  readonly row: DraftRow;
  readonly percent: number;
  readonly onRow: (part: Partial<DraftRow>) => void;
  readonly onRemove: () => void;
}

function BreaksRow({ row, percent, onRow, onRemove }: RowProps) {
  return (
    <Flex gap="1" align="center" mt="1">
      <input
        type="color"
        aria-label={`Colour of ${row.name}`}
        value={row.colour}
        style={{ width: 26, height: 24, flex: "none", padding: 0 }}
        onChange={(event) => onRow({ colour: event.currentTarget.value })}
      />
      <Input
        size="xs"
        bg="card"
        flex="1"
        minW="0"
        px="1.5"
        aria-label={`Name of class ${row.code}`}
        value={row.name}
        maxLength={80}
        onChange={(event) => onRow({ name: event.currentTarget.value })}
      />
      <NumberField
        label={`${row.name} from`}
        width="4.9rem"
        placeholder="any"
        value={row.low ?? null}
        onNumber={(low) => onRow({ low })}
        onEmpty={() => onRow({ low: null })}
      />
      <NumberField
        label={`${row.name} to`}
        width="4.9rem"
        placeholder="any"
        value={row.high ?? null}
        onNumber={(high) => onRow({ high })}
        onEmpty={() => onRow({ high: null })}
      />
      <Text width="2.8rem" textAlign="end" flex="none">
        {percent.toFixed(1)}
      </Text>
      <Quiet
        type="button"
        width="1.2rem"
        aria-label={`Remove ${row.name}`}
        title="Remove this class"
        onClick={onRemove}
      >
        ×
      </Quiet>
    </Flex>
  );
}
