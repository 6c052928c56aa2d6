import { Box, Text } from "@chakra-ui/react";

import type { Accuracy, Proportion } from "../../api/types";
import { ClassTable } from "../../shared/ClassTable";
import { formatPercent } from "../../shared/format";
import { shortInterval } from "./interval";

/** Producer's and user's accuracy of each class with their intervals, the weakest first. */
export function ClassAccuracy({ accuracy }: { readonly accuracy: Accuracy }) {
  const rows = accuracy.codes.map((code, i) => {
    const [producers, users] = [accuracy.producers[i], accuracy.users[i]];
    return {
      code,
      name: `${accuracy.own_codes[i] ?? code} ${accuracy.names[i] ?? ""}`,
      colour: accuracy.colours[i] ?? "",
      weakest: Math.min(producers?.value ?? 1, users?.value ?? 1),
      cells: [<Share key="producers" value={producers} />, <Share key="users" value={users} />],
    };
  });
  rows.sort((a, b) => a.weakest - b.weakest);
  return (
    <ClassTable
      label="Producer's and user's accuracy per class"
      columns={["producer's", "user's"]}
      rows={rows}
    />
  );
}

function Share({ value }: { readonly value: Proportion | undefined }) {
  return (
    <Box whiteSpace="nowrap">
      {formatPercent(value?.value ?? null, 0)}
      <Text as="span" display="inline-block" minW="4.6rem" color="quiet" fontSize="0.92rem">
        {value && shortInterval(value)}
      </Text>
    </Box>
  );
}
