import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { useChannels } from "../api/queries/look";
import type { Channel } from "../api/types";
import { HistogramStrip } from "../charts";
import { formatValue } from "../shared/format";
import type { SceneShow } from "../shared/view";
import { stretchOrder } from "./stretchOrder";

interface Props {
  readonly show: SceneShow;
  readonly onLimits: (limits: [number, number][]) => void;
}

const CHANNELS = ["red", "green", "blue"];

/** Each channel's histogram with its limits, which can be dragged, and the share that is cut. */
export function ChannelLimits({ show, onLimits }: Props) {
  const { data: channels, error } = useChannels(show.sceneId, stretchOrder(show));
  if (error) return <Text px="2">{error.message}</Text>;
  if (!channels) return <Box height="14rem" />;
  // Set limits are known at once; all others are the server's.
  const { kind, limits: set } = show.stretch;
  const limits = channels.map(({ low, high }, i): [number, number] => {
    const own = kind === "typed" ? set[i] : undefined;
    return own ?? [low, high];
  });
  const change = (at: number, pair: [number, number]) => {
    if (pair[0] < pair[1]) onLimits(limits.map((old, i) => (i === at ? pair : old)));
  };
  return (
    <Box px="1">
      {channels.map((channel, i) => (
        <ChannelStrip
          key={`${channel.role} ${i}`}
          channel={channel}
          limits={limits[i] ?? [channel.low, channel.high]}
          name={show.palette ? "colours" : (CHANNELS[i] ?? "")}
          onChange={(pair) => change(i, pair)}
        />
      ))}
    </Box>
  );
}

interface StripProps {
  readonly channel: Channel;
  readonly limits: readonly [number, number];
  readonly name: string;
  readonly onChange: (pair: [number, number]) => void;
}

function ChannelStrip({ channel, limits: [low, high], name, onChange }: StripProps) {
  const { role, cut_low, cut_high, histogram } = channel;
  // While a limit is dragged the axis stays as it was.
  const [range] = useState(() => histogram);
  return (
    <>
      <Flex justify="space-between" px="1">
        <Text>
          <b>{role}</b> as {name}
        </Text>
        <Text color="quiet">
          {formatValue(low)} to {formatValue(high)}, cuts {cut_low.toFixed(1)} and{" "}
          {cut_high.toFixed(1)} %
        </Text>
      </Flex>
      <HistogramStrip
        bins={range}
        label={`Histogram of ${role} with its limits`}
        axisTitle=""
        height={58}
        marks={[
          { value: low, label: `Black of ${role}`, onMove: (v) => onChange([v, high]) },
          { value: high, label: `White of ${role}`, onMove: (v) => onChange([low, v]) },
        ]}
      />
    </>
  );
}
