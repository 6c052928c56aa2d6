import { Table } from "@chakra-ui/react";
import type { ReactNode } from "react";

interface Column {
  readonly head: string;
  /** Numbers stand to the right. */
  readonly end?: boolean;
}

interface Row {
  readonly key: string | number;
  readonly cells: readonly ReactNode[];
  /** Shown paler: it takes no part. */
  readonly pale?: boolean;
}

interface Props {
  readonly label: string;
  readonly columns: readonly Column[];
  readonly rows: readonly Row[];
}

/** A plain table with its heads. */
export function DataTable({ label, columns, rows }: Props) {
  return (
    // What may have to be scrolled can be reached by keys.
    <Table.ScrollArea tabIndex={0} role="group" aria-label={`${label}, to be scrolled`}>
      <Table.Root size="sm" aria-label={label}>
        <Table.Header>
          <Table.Row bg="transparent">
            {columns.map(({ head, end }) => (
              <Table.ColumnHeader
                key={head}
                px="1.5"
                py="1"
                color="quiet"
                textAlign={end ? "end" : "start"}
                whiteSpace="nowrap"
              >
                {head}
              </Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {rows.map(({ key, cells, pale }) => (
            <Table.Row key={key} bg="transparent" color={pale ? "quiet" : "ink"}>
              {cells.map((cell, i) => (
                <Table.Cell
                  key={columns[i]?.head}
                  px="1.5"
                  py="1"
                  textAlign={columns[i]?.end ? "end" : "start"}
                  borderColor="line"
                >
                  {cell}
                </Table.Cell>
              ))}
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Table.ScrollArea>
  );
}
