import { chakra, Table, Text } from "@chakra-ui/react";

import type { ComparedMaps } from "../../api/types";
import { formatHectares } from "../../shared/format";
import { Swatch } from "../../shared/Swatch";

const Scroll = chakra("div", { base: { overflowX: "auto", mt: "3" } });

/** Hectares from each class of the first map (rows) to each of the second; what stays is bold. */
export function FromToTable({ data }: { readonly data: ComparedMaps }) {
  const { rows, columns, hectares } = data;
  const sum = (values: readonly number[]) => values.reduce((total, value) => total + value, 0);
  return (
    <Scroll tabIndex={0} role="group" aria-label="From class to class, to be scrolled">
      <Table.Root size="sm" width="auto" aria-label="From class to class, in hectares">
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader px="1.5" color="quiet">
              First map, ha
            </Table.ColumnHeader>
            {columns.map(({ code, name, colour }) => (
              <Table.ColumnHeader key={code} px="1.5" textAlign="end" color="quiet">
                <Swatch colour={colour} />
                <Text as="span" display="block">
                  {name}
                </Text>
              </Table.ColumnHeader>
            ))}
            <Table.ColumnHeader px="1.5" textAlign="end" color="quiet">
              in all
            </Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {rows.map((from, i) => (
            <Table.Row key={from.code} bg="transparent">
              <Table.Cell px="1.5" py="1" borderColor="line" whiteSpace="nowrap">
                <Swatch colour={from.colour} /> {from.name}
              </Table.Cell>
              {columns.map((to, j) => (
                <Table.Cell
                  key={to.code}
                  px="1.5"
                  py="1"
                  textAlign="end"
                  borderColor="line"
                  fontWeight={to.name === from.name ? "700" : undefined}
                >
                  {formatHectares(hectares[i]?.[j] ?? 0)}
                </Table.Cell>
              ))}
              <Table.Cell px="1.5" py="1" textAlign="end" borderColor="line" color="quiet">
                {formatHectares(sum(hectares[i] ?? []))}
              </Table.Cell>
            </Table.Row>
          ))}
          <Table.Row bg="transparent" color="quiet">
            <Table.Cell px="1.5" py="1" borderColor="line">
              Second map, in all
            </Table.Cell>
            {columns.map((to, j) => (
              <Table.Cell key={to.code} px="1.5" py="1" textAlign="end" borderColor="line">
                {formatHectares(sum(hectares.map((row) => row[j] ?? 0)))}
              </Table.Cell>
            ))}
            <Table.Cell px="1.5" py="1" textAlign="end" borderColor="line">
              {formatHectares(sum(hectares.flat()))}
            </Table.Cell>
          </Table.Row>
        </Table.Body>
      </Table.Root>
    </Scroll>
  );
}
