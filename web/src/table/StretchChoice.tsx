import { Field, Flex, NumberInput, Text } from "@chakra-ui/react";
import { useState } from "react";

import { Choice } from "../shared/Choice";
import { Handle } from "../shared/Handle";
import { useViewStore } from "../shared/viewStore";
import type { SceneShow } from "./SceneCaption";

interface Props {
  readonly index: 0 | 1;
  readonly show: SceneShow;
}

const USUAL = [
  { low: 0, high: 100, note: "Everything from the darkest to the brightest pixel" },
  { low: 0.5, high: 99.5, note: "Almost all; soft" },
  { low: 2, high: 98, note: "The usual one" },
  { low: 5, high: 95, note: "Strong contrast" },
];

/** The handle that changes which share of the values becomes black and white. */
export function StretchChoice({ index, show }: Props) {
  const setPane = useViewStore((store) => store.setPane);
  return (
    <Handle
      text={`${show.low} to ${show.high} %`}
      label="Change the contrast stretch"
      width="17rem"
    >
      {(close) => (
        <>
          <Text color="quiet" px="2" pb="1">
            Percentiles of each band that become black and white. Clouds and fill do not count.
          </Text>
          {show.stretchOf !== undefined && (
            <Choice
              title="By its own values"
              note="Now the limits are those of another scene, so that both can be compared"
              chosen={false}
              onChoose={() => {
                setPane(index, ownStretch(show));
                close();
              }}
            />
          )}
          {USUAL.map(({ low, high, note }) => (
            <Choice
              key={low}
              title={`${low} to ${high} %`}
              note={note}
              chosen={show.low === low && show.high === high}
              onChoose={() => {
                setPane(index, { ...show, low, high });
                close();
              }}
            />
          ))}
          <TypedEnds show={show} onChange={(ends) => setPane(index, { ...show, ...ends })} />
        </>
      )}
    </Handle>
  );
}

interface TypedProps {
  readonly show: SceneShow;
  readonly onChange: (ends: { low: number; high: number }) => void;
}

function TypedEnds({ show, onChange }: TypedProps) {
  const [low, setLow] = useState(String(show.low));
  const [high, setHigh] = useState(String(show.high));
  const wrong = !(Number(low) >= 0 && Number(low) < Number(high) && Number(high) <= 100);
  const tell = (nextLow: string, nextHigh: string) => {
    setLow(nextLow);
    setHigh(nextHigh);
    const ends = { low: Number(nextLow), high: Number(nextHigh) };
    if (nextLow !== "" && ends.low >= 0 && ends.low < ends.high && ends.high <= 100) onChange(ends);
  };
  return (
    <Field.Root invalid={wrong} px="2" pt="2">
      <Flex gap="2" align="center">
        <End label="Low end in percent" value={low} onChange={(text) => tell(text, high)} />
        <Text>to</Text>
        <End label="High end in percent" value={high} onChange={(text) => tell(low, text)} />
        <Text>%</Text>
      </Flex>
      <Field.ErrorText>The low end must be below the high end, both from 0 to 100.</Field.ErrorText>
    </Field.Root>
  );
}

interface EndProps {
  readonly label: string;
  readonly value: string;
  readonly onChange: (text: string) => void;
}

function End({ label, value, onChange }: EndProps) {
  return (
    <NumberInput.Root
      size="sm"
      width="5.5rem"
      value={value}
      step={0.5}
      onValueChange={(details) => onChange(details.value)}
    >
      <NumberInput.Control />
      <NumberInput.Input aria-label={label} />
    </NumberInput.Root>
  );
}

function ownStretch(show: SceneShow): SceneShow {
  const own = { ...show };
  delete own.stretchOf;
  return own;
}
