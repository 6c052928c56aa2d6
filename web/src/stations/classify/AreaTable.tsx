import { Flex, Table } from "@chakra-ui/react";

import type { Layer } from "../../api/types";
import { formatCount, formatHectares } from "../../shared/format";
import { Swatch } from "../../shared/Swatch";

interface Props {
  readonly legend: Layer["legend"];
  readonly label: string;
}

/** Legend, pixels, percent of what is classified, hectares. */
export function AreaTable({ legend, label }: Props) {
  return (
    <Table.Root size="sm" mt="2" aria-label={label}>
      <Table.Header>
        <Table.Row bg="transparent">
          <Table.ColumnHeader px="0" color="quiet">
            Class
          </Table.ColumnHeader>
          {["pixels", "%", "ha"].map((unit) => (
            <Table.ColumnHeader key={unit} px="1" textAlign="end" color="quiet">
              {unit}
            </Table.ColumnHeader>
          ))}
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {legend.map((row) => (
          <Table.Row key={row.code} bg="transparent">
            <Table.Cell px="0" py="1" borderColor="line">
              <Flex gap="2" align="center">
                <Swatch colour={row.colour} /> {row.name}
              </Flex>
            </Table.Cell>
            {[formatCount(row.pixels), row.percent.toFixed(1), formatHectares(row.hectares)].map(
              (text, i) => (
                <Table.Cell key={i} px="1" py="1" textAlign="end" borderColor="line">
                  {text}
                </Table.Cell>
              ),
            )}
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  );
}
