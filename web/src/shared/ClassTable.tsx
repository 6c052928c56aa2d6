import { Flex, Table } from "@chakra-ui/react";
import type { ReactNode } from "react";

import { Swatch } from "./Swatch";

interface Row {
  code: number;
  name: string;
  colour: string;
  /** One per column after the class. */
  cells: ReactNode[];
}

interface Props {
  readonly label: string;
  readonly columns: readonly string[];
  readonly rows: readonly Row[];
}

/** A row per class with its colour and name, and numbers to the right. */
export function ClassTable({ label, columns, rows }: Props) {
  return (
    <Table.Root size="sm" mt="1" aria-label={label}>
      <Table.Header>
        <Table.Row bg="transparent">
          <Table.ColumnHeader px="0" color="quiet">
            Class
          </Table.ColumnHeader>
          {columns.map((column) => (
            <Table.ColumnHeader key={column} px="1" textAlign="end" color="quiet">
              {column}
            </Table.ColumnHeader>
          ))}
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {rows.map((row) => (
          <Table.Row key={row.code} bg="transparent">
            <Table.Cell px="0" py="1" borderColor="line">
              <Flex gap="2" align="center">
                <Swatch colour={row.colour} /> {row.name}
              </Flex>
            </Table.Cell>
            {row.cells.map((cell, i) => (
              <Table.Cell key={columns[i]} px="1" py="1" textAlign="end" borderColor="line">
                {cell}
              </Table.Cell>
            ))}
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  );
}
