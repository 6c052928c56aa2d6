import { Flex, Table, Text } from "@chakra-ui/react";

import type { Accuracy, Proportion } from "../../api/types";
import { formatPercent } from "../../shared/format";
import { Swatch } from "../../shared/Swatch";
import { shortInterval } from "./interval";

const HEADS = ["Class", "producer's", "user's"];

/** Producer's and user's accuracy of each class with their intervals. */
export function ClassAccuracy({ accuracy }: { readonly accuracy: Accuracy }) {
  const rows = accuracy.codes.map((code, i) => ({
    code,
    name: accuracy.names[i] ?? "",
    colour: accuracy.colours[i] ?? "",
    producers: accuracy.producers[i],
    users: accuracy.users[i],
  }));
  const weakness = (p: Proportion | undefined) => p?.value ?? 1;
  rows.sort(
    (a, b) =>
      Math.min(weakness(a.producers), weakness(a.users)) -
      Math.min(weakness(b.producers), weakness(b.users)),
  );
  return (
    <Table.Root size="sm" aria-label="Producer's and user's accuracy per class">
      <Table.Header>
        <Table.Row bg="transparent">
          {HEADS.map((head, i) => (
            <Table.ColumnHeader key={head} px="0" color="quiet" textAlign={i ? "end" : "start"}>
              {head}
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
            <Share value={row.producers} />
            <Share value={row.users} />
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  );
}

function Share({ value }: { readonly value: Proportion | undefined }) {
  return (
    <Table.Cell px="0" py="1" textAlign="end" borderColor="line">
      {formatPercent(value?.value ?? null, 0)}
      <Text as="span" display="inline-block" ml="1" minW="4.4rem" color="quiet" fontSize="0.92rem">
        {value && shortInterval(value)}
      </Text>
    </Table.Cell>
  );
}
