import { Flex } from "@chakra-ui/react";
import { useState } from "react";

import { useSensors } from "../../../api/queries/vocabulary";
import type { SceneTake } from "../../../api/types";
import { Select } from "../../../shared/Select";
import { TextField } from "../../../shared/TextField";
import { asOfSensor, type Vocabulary, withRoles, wordsOf } from "./roles";

type BandOrder = SceneTake["bands"][number];

interface Props {
  readonly bands: readonly BandOrder[];
  readonly known: Vocabulary;
  readonly onBands: (bands: BandOrder[]) => void;
}

/** All roles at once: typed in order, or those of a known sensor with as many bands. */
export function RolesInOrder({ bands, known, onBands }: Props) {
  const [text, setText] = useState("");
  const { data: sensors = [] } = useSensors();
  const n = bands.filter((band) => band.used).length;
  const fitting = sensors.filter((sensor) => sensor.bands.length === n);
  const n_words = wordsOf(text).length;
  const counted = `${n_words} of ${n} bands named`;
  const choose = (title: string) => {
    const sensor = fitting.find((one) => one.title === title);
    if (sensor) onBands(asOfSensor(bands, sensor));
  };
  return (
    <Flex gap="3" mt="3" wrap="wrap" align="flex-start">
      <TextField
        label="All roles in order"
        placeholder="blue green red nir swir16 swir22"
        value={text}
        help={n_words > 0 ? counted : "With spaces between; this fills the table below."}
        onText={(typed) => {
          setText(typed);
          onBands(withRoles(bands, typed, known));
        }}
        flex="1"
        minW="16rem"
      />
      {fitting.length > 0 && (
        <Select
          label="Or as of a known sensor"
          value=""
          options={[
            { value: "", label: "choose …" },
            ...fitting.map(({ title }) => ({ value: title, label: title })),
          ]}
          onValue={choose}
          width="17rem"
        />
      )}
    </Flex>
  );
}
