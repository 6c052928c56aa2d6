import { Spinner, Text } from "@chakra-ui/react";

import { sentenceOf } from "../../api/problem";
import { useShift } from "../../api/queries/corrections";
import type { Scene } from "../../api/types";
import { Remark } from "../../shared/Remark";

interface Props {
  readonly fixed: Scene;
  readonly moving: Scene;
}

const CLOSE_PX = 0.1;
const FAR_PX = 0.3;

/** The measured shift in words. */
export function ShiftNews({ fixed, moving }: Props) {
  const { data, error } = useShift(moving.id, fixed.id);
  if (error) return <Remark tone="problem">{sentenceOf(error)}</Remark>;
  if (!data) {
    return (
      <Text mt="2" role="status">
        <Spinner size="xs" mr="2" /> Measuring …
      </Text>
    );
  }
  const far = Math.hypot(data.right_px, data.down_px) > FAR_PX;
  return (
    <Remark tone={far ? "caution" : "calm"}>
      {shiftWords(moving.title, data.right_px, data.down_px)} {data.n_agreeing} of {data.n_pieces}{" "}
      pieces of the scene agree to half a pixel.
    </Remark>
  );
}

function shiftWords(title: string, right: number, down: number): string {
  if (Math.hypot(right, down) < CLOSE_PX) {
    return "They lie on one another, to a tenth of a pixel.";
  }
  const sideways = `${Math.abs(right).toFixed(2)} pixels to the ${right < 0 ? "left" : "right"}`;
  const upright = `${Math.abs(down).toFixed(2)} ${down < 0 ? "up" : "down"}`;
  return `“${title}” must be moved ${sideways} and ${upright} (“Move into place”).`;
}
