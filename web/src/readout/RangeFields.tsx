import { Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Ranges } from "../charts";
import { NumberField } from "../shared/NumberField";

interface Props {
  readonly ranges: Ranges;
  readonly onRanges: (ranges: Ranges) => void;
}

/** The ends of both axes; both of an axis are typed, or it goes as far as the data. */
export function RangeFields({ ranges, onRanges }: Props) {
  return (
    <>
      <Text color="quiet" mt="2">
        Drag over the chart to look closer; a double click shows all.
      </Text>
      <AxisFields axis="across" ends={ranges.x} onEnds={(x) => onRanges({ ...ranges, x })} />
      <AxisFields axis="up" ends={ranges.y} onEnds={(y) => onRanges({ ...ranges, y })} />
    </>
  );
}

interface AxisProps {
  readonly axis: string;
  readonly ends: Ranges["x"];
  readonly onEnds: (ends: Ranges["x"]) => void;
}

function AxisFields({ axis, ends, onEnds }: AxisProps) {
  const [half, setHalf] = useState<{ low?: number; high?: number }>({});
  const low = ends?.[0] ?? half.low;
  const high = ends?.[1] ?? half.high;
  const tell = (next: { low?: number | undefined; high?: number | undefined }) => {
    setHalf(next as typeof half);
    if (next.low !== undefined && next.high !== undefined && next.low < next.high) {
      onEnds([next.low, next.high]);
    } else if (ends) onEnds(null);
  };
  return (
    <Flex mt="1.5" gap="2" align="center">
      <Text width="3.5rem">{axis}</Text>
      <NumberField
        label={`Low end ${axis}`}
        placeholder="as far as"
        value={low ?? null}
        onNumber={(n) => tell({ low: n, high })}
        onEmpty={() => tell({ low: undefined, high })}
      />
      <Text>to</Text>
      <NumberField
        label={`High end ${axis}`}
        placeholder="there is"
        value={high ?? null}
        onNumber={(n) => tell({ low, high: n })}
        onEmpty={() => tell({ low, high: undefined })}
      />
    </Flex>
  );
}
