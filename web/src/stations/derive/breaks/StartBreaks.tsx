import { Button, Flex } from "@chakra-ui/react";
import { useState } from "react";

import { sentenceOf } from "../../../api/problem";
import { useBreakStart } from "../../../api/queries/breaks";
import type { BreakStart, Scene } from "../../../api/types";
import { NumberField } from "../../../shared/NumberField";
import { Remark } from "../../../shared/Remark";
import { Select } from "../../../shared/Select";
import { useBreaksStore } from "./breaksStore";

const STARTS: { value: BreakStart["start"]; label: string }[] = [
  { value: "natural breaks", label: "natural breaks" },
  { value: "equal intervals", label: "equal intervals" },
  { value: "quantiles", label: "quantiles" },
  { value: "vegetation index", label: "vegetation index, common" },
];

interface Props {
  readonly scene: Scene;
  readonly role: string;
}

/** A table to start from, found in the layer's values. */
export function StartBreaks({ scene, role }: Props) {
  const start = useBreakStart(scene.id);
  const setTable = useBreaksStore((store) => store.setTable);
  const [how, setHow] = useState<BreakStart["start"]>("natural breaks");
  const [n, setN] = useState(4);
  const fixed = how === "vegetation index";
  return (
    <>
      <Flex gap="2" mt="2" align="center">
        <Select
          label="Start from"
          hideLabel
          value={how}
          options={STARTS}
          onValue={(next) => setHow(next as BreakStart["start"])}
        />
        {!fixed && (
          <NumberField
            label="Number of classes"
            width="3.5rem"
            step={1}
            value={n}
            isGood={(value) => Number.isInteger(value) && value >= 1 && value <= 32}
            onNumber={setN}
          />
        )}
        <Button
          size="xs"
          flex="none"
          variant="outline"
          borderColor="line"
          loading={start.isPending}
          onClick={() => start.mutate({ role, n_classes: n, start: how }, { onSuccess: setTable })}
        >
          Fill the table
        </Button>
      </Flex>
      {start.error && <Remark tone="problem">{sentenceOf(start.error)}</Remark>}
    </>
  );
}
