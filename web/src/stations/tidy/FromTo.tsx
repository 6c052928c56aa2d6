import { Table, Text } from "@chakra-ui/react";

import type { Tidied } from "../../api/types";
import { Folded } from "../../shared/Folded";
import { formatCount } from "../../shared/format";
import { moves } from "./changed";

const MOST = 12;

/** What became of what, the most first. */
export function FromTo({ found }: { readonly found: Tidied }) {
  const rows = moves(found);
  if (rows.length === 0) return null;
  return (
    <Folded title="From and to" mt="1">
      <Table.Root size="sm" mt="1" aria-label="Pixels that changed, from and to">
        <Table.Body>
          {rows.slice(0, MOST).map(({ from, to, n }) => (
            <Table.Row key={`${from} ${to}`} bg="transparent">
              <Table.Cell px="0" py="1" borderColor="line">
                {from}
              </Table.Cell>
              <Table.Cell px="1" py="1" borderColor="line">
                to {to}
              </Table.Cell>
              <Table.Cell px="1" py="1" textAlign="end" borderColor="line">
                {formatCount(n)}
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
      {rows.length > MOST && (
        <Text color="quiet">And {formatCount(rows.length - MOST)} rarer ones.</Text>
      )}
    </Folded>
  );
}
