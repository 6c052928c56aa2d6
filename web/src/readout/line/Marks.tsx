import { Box, Flex, Text } from "@chakra-ui/react";
import { Fragment } from "react";

import type { LineProfile } from "../../api/types";
import { DataTable } from "../../shared/DataTable";
import { formatCount, formatDigits } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { lengthOf, measure, nearestPlace } from "./measure";

interface Props {
  readonly data: LineProfile;
  readonly names: readonly string[];
  /** Distances from the start of the line, metres: two at most. */
  readonly marks: readonly number[];
  readonly onMarks: (marks: number[]) => void;
}

/** Two marks on the line, clicked in the chart or typed, and what lies between them. */
export function Marks({ data, names, marks, onMarks }: Props) {
  const length = lengthOf(data);
  const put = (i: number, distance: number) =>
    onMarks(i === 0 ? [distance, ...marks.slice(1)] : [marks[0] ?? 0, distance]);
  return (
    <Box
      as="section"
      aria-label="Measured along the line"
      flex="none"
      width="19.5rem"
      maxW="54%"
      pe="3"
      overflowY="auto"
    >
      <Flex gap="1.5" align="center">
        {[0, 1].map((i) => (
          <Fragment key={i}>
            <Text>{i === 0 ? "From" : "to"}</Text>
            <NumberField
              label={i === 0 ? "First mark, metres from the start" : "Second mark"}
              width="5.2rem"
              value={marks[i] === undefined ? null : Math.round(marks[i])}
              placeholder="–"
              isGood={(n) => n >= 0 && n <= length}
              onNumber={(n) => put(i, n)}
              onEmpty={() => onMarks(i === 0 ? [] : marks.slice(0, 1))}
            />
          </Fragment>
        ))}
        <Text>m</Text>
      </Flex>
      {marks.length === 2 ? (
        <MarkTable data={data} names={names} marks={marks} />
      ) : (
        <Text color="quiet">Click two places on the chart, or type their distance.</Text>
      )}
    </Box>
  );
}

/** Layer by layer. */
function MarkTable({ data, names, marks }: Omit<Props, "onMarks">) {
  const places = marks.map((distance) => nearestPlace(data, distance));
  const [from = 0, to = 0] = places.map((place) => data.distance_m[place] ?? 0);
  return (
    <DataTable
      label="Between the marks"
      columns={[
        { head: `${formatCount(Math.abs(to - from))} m` },
        { head: "from", end: true },
        { head: "to", end: true },
        { head: "change", end: true },
        { head: "mean", end: true },
      ]}
      rows={names.map((name, i) => {
        const found = measure(data.values[i] ?? [], places);
        const numbers = [found.first, found.second, found.difference, found.mean];
        return {
          key: name,
          cells: [<Name key="name" name={name} />, ...numbers.map(formatDigits)],
        };
      })}
    />
  );
}

function Name({ name }: { readonly name: string }) {
  return (
    <Text maxW="3.6rem" truncate title={name}>
      {name}
    </Text>
  );
}
