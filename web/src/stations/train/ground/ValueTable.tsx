import { Box, Flex } from "@chakra-ui/react";

import { useClasses } from "../../../api/queries/training";
import type { Ground, GroundTake, LandClass } from "../../../api/types";
import { DataTable } from "../../../shared/DataTable";
import { formatCount } from "../../../shared/format";
import { Quiet } from "../../../shared/Quiet";
import { Select } from "../../../shared/Select";
import { useStudyId } from "../../../shared/study";

type Value = Ground["values"][number];
type Wanted = GroundTake["wanted"];

export const LEFT_OUT = "left out";
const NEW = "new";

interface Props {
  readonly values: readonly Value[];
  /** By value: the id of a class, or one of the two words above; as proposed where nothing is. */
  readonly choices: Readonly<Record<string, string>>;
  readonly onChoice: (value: string, choice: string) => void;
  readonly onAll: (choice: string) => void;
}

/** The values of the attribute, how often each comes, and the class that it stands for. */
export function ValueTable({ values, choices, onChoice, onAll }: Props) {
  const { data: classes = [] } = useClasses(useStudyId());
  if (values.length === 0) return null;
  return (
    <Box mt="3" maxW="44rem">
      <Flex gap="3" mb="1">
        <Quiet type="button" onClick={() => onAll(NEW)}>
          As proposed
        </Quiet>
        <Quiet type="button" onClick={() => onAll(LEFT_OUT)}>
          Leave all out
        </Quiet>
      </Flex>
      <DataTable
        label="Values and classes"
        columns={[{ head: "Value" }, { head: "Sites", end: true }, { head: "Class" }]}
        rows={values.map((one) => ({
          key: one.value,
          pale: choiceOf(one, choices) === LEFT_OUT,
          cells: [
            one.value,
            formatCount(one.n_sites),
            <Select
              key="class"
              label={`Class of ${one.value}`}
              hideLabel
              value={choiceOf(one, choices)}
              options={optionsOf(one, classes)}
              onValue={(choice) => onChoice(one.value, choice)}
            />,
          ],
        }))}
      />
    </Box>
  );
}

function choiceOf({ value, class_id }: Value, choices: Props["choices"]): string {
  return choices[value] ?? (class_id === null ? NEW : String(class_id));
}

function optionsOf({ value, name }: Value, classes: readonly LandClass[]) {
  return [
    { value: NEW, label: `New class: ${name || value}` },
    ...classes.map((row) => ({ value: String(row.id), label: row.name })),
    { value: LEFT_OUT, label: "Leave out" },
  ];
}

/** What is to be taken: each value with its class, those left out not. */
export function wantedOf(values: readonly Value[], choices: Props["choices"]): Wanted {
  const wanted: Wanted = {};
  for (const one of values) {
    const choice = choiceOf(one, choices);
    if (choice === LEFT_OUT) continue;
    const { name, code, colour } = one;
    const made = { class_id: null, name: name || one.value, code, colour };
    wanted[one.value] =
      choice === NEW ? made : { ...made, class_id: Number(choice), code: null, colour: null };
  }
  return wanted;
}
