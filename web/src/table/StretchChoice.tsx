import { Flex, Text } from "@chakra-ui/react";

import { Choice } from "../shared/Choice";
import { Handle } from "../shared/Handle";
import { NumberField } from "../shared/NumberField";
import { Toggle } from "../shared/Toggle";
import type { PaneIndex, SceneShow, Stretch } from "../shared/view";
import { ChannelLimits } from "./ChannelLimits";
import { stretchWords } from "./stretchOrder";
import { useChangeShow } from "./useChangeShow";

interface Props {
  readonly index: PaneIndex;
  readonly show: SceneShow;
}

const ENDS = "The low end must be below the high end, both from 0 to 100.";

const KINDS: { part: Partial<Stretch>; title: string; note: string }[] = [
  {
    part: { kind: "percentile", low: 2, high: 98 },
    title: "2 to 98 %",
    note: "The usual one: the darkest and brightest 2 % are cut",
  },
  {
    part: { kind: "percentile", low: 0.5, high: 99.5 },
    title: "0.5 to 99.5 %",
    note: "Almost everything; soft",
  },
  { part: { kind: "percentile", low: 5, high: 95 }, title: "5 to 95 %", note: "Strong contrast" },
  {
    part: { kind: "extremes" },
    title: "From least to most",
    note: "Nothing is cut; one bright roof can darken all",
  },
  {
    part: { kind: "deviations", deviations: 2 },
    title: "Mean ± 2 standard deviations",
    note: "For values that lie about evenly around their mean",
  },
  {
    part: { kind: "equalise" },
    title: "Equalised",
    note: "Each brightness holds as many pixels: shows faint differences, distorts amounts",
  },
  {
    part: { kind: "none" },
    title: "Not at all",
    note: "Reflectance 0 to 1, or all numbers that there could be: to compare scenes",
  },
];

/** The handle that changes how values become brightness. */
export function StretchChoice({ index, show }: Props) {
  const { stretch: set } = useChangeShow(index, show);
  const { stretch } = show;
  return (
    <Handle text={stretchWords(stretch)} label="Change the contrast stretch" width="26rem">
      {() => (
        <>
          <ChannelLimits show={show} onLimits={(limits) => set({ kind: "typed", limits })} />
          <Ends stretch={stretch} onChange={set} />
          <Flex px="2" py="1.5" justify="space-between" align="center" gap="2">
            <Text color="quiet">Clouds and fill do not count.</Text>
            {show.palette === null && (
              <Toggle
                label="One for all channels"
                on={stretch.shared}
                onClick={() => set({ shared: !stretch.shared })}
              />
            )}
          </Flex>
          {KINDS.map(({ part, title, note }) => (
            <Choice
              key={title}
              title={title}
              note={note}
              chosen={Object.entries(part).every(
                ([key, value]) => stretch[key as keyof Stretch] === value,
              )}
              onChoose={() => set(part)}
            />
          ))}
        </>
      )}
    </Handle>
  );
}

interface EndsProps {
  readonly stretch: Stretch;
  readonly onChange: (part: Partial<Stretch>) => void;
}

/** Both ends of a percentile stretch, each by itself. */
function Ends({ stretch: { kind, low, high, deviations }, onChange }: EndsProps) {
  if (kind === "deviations") {
    return (
      <Flex px="2" gap="2" align="center">
        <NumberField
          label="Standard deviations"
          value={deviations}
          isGood={(n) => n > 0 && n <= 10}
          step={0.5}
          onNumber={(n) => onChange({ deviations: n })}
        />
        <Text>standard deviations</Text>
      </Flex>
    );
  }
  if (kind !== "percentile") return null;
  return (
    <Flex px="2" gap="2" align="center">
      <NumberField
        label="Low end in percent"
        value={low}
        isGood={(n) => n >= 0 && n < high}
        problem={ENDS}
        step={0.5}
        onNumber={(n) => onChange({ low: n })}
      />
      <Text>to</Text>
      <NumberField
        label="High end in percent"
        value={high}
        isGood={(n) => n <= 100 && n > low}
        problem={ENDS}
        step={0.5}
        onNumber={(n) => onChange({ high: n })}
      />
      <Text>%</Text>
    </Flex>
  );
}
