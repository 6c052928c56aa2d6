import { Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { useHistogram } from "../../api/queries/corrections";
import type { Scene } from "../../api/types";
import { HistogramStrip } from "../../charts";
import { bandQuantityWords } from "../../shared/quantity";
import { Quiet } from "../../shared/Quiet";
import { Select } from "../../shared/Select";

type Dark = Record<string, number>;

interface Props {
  readonly scene: Scene;
  readonly found: Dark;
  readonly moved: Dark;
  /** Null: they can be looked at, not moved. */
  readonly onMoved: ((moved: Dark) => void) | null;
}

/** One band's histogram with its dark value. */
export function DarkHistogram({ scene, found, moved, onMoved }: Props) {
  const [picked, setPicked] = useState("blue");
  const roles = scene.bands.map((band) => band.role);
  const role = roles.includes(picked) ? picked : (roles[0] ?? "");
  const { data: histogram } = useHistogram(scene.id, role);
  const move = (next: number) => onMoved?.({ ...moved, [role]: Number(next.toPrecision(4)) });
  return (
    <>
      <Select
        label="Band whose histogram is shown"
        hideLabel
        value={role}
        options={roles.map((one) => ({ value: one, label: wordsOf(one, found, moved) }))}
        onValue={setPicked}
      />
      {histogram && (
        <HistogramStrip
          bins={histogram}
          label={`Histogram of ${role} in ${scene.title}`}
          axisTitle={`${role}, ${bandQuantityWords(scene, role)} (heights by square root)`}
          marks={[
            {
              value: moved[role] ?? found[role] ?? histogram.low,
              label: `Dark value of ${role}`,
              onMove: move,
            },
          ]}
        />
      )}
      <Flex justify="space-between">
        <Text color="quiet">
          {onMoved
            ? "Drag the mark, or move it by the arrow keys."
            : `Of ${scene.title}; each other scene gets its own.`}
        </Text>
        {onMoved && Object.keys(moved).length > 0 && (
          <Quiet type="button" onClick={() => onMoved({})}>
            As found
          </Quiet>
        )}
      </Flex>
    </>
  );
}

function wordsOf(role: string, found: Dark, moved: Dark): string {
  const byHand = moved[role];
  if (byHand !== undefined) return `${role}: ${byHand.toPrecision(3)}, moved by hand`;
  return `${role}: ${found[role]?.toPrecision(3) ?? "…"}`;
}
