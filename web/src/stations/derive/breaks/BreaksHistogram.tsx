import { useHistogram } from "../../../api/queries/corrections";
import type { Scene } from "../../../api/types";
import { HistogramStrip, type ValueMark } from "../../../charts";
import { useBreaksStore } from "./breaksStore";
import { limitsOf, moveLimit } from "./limits";

interface Props {
  readonly scene: Scene;
  readonly role: string;
}

/** The layer's values with the limits on them, to be dragged. */
export function BreaksHistogram({ scene, role }: Props) {
  const { data } = useHistogram(scene.id, role);
  const { rows, setRows } = useBreaksStore();
  if (!data) return null;
  const marks: ValueMark[] = limitsOf(rows).map((value, i) => ({
    value,
    label: `Limit ${i + 1}`,
    onMove: (next) => setRows(moveLimit(rows, value, Number(next.toPrecision(4)))),
  }));
  return (
    <HistogramStrip
      bins={data}
      label={`Histogram of ${role} in ${scene.title}`}
      axisTitle={`${role} (heights by square root)`}
      marks={marks}
    />
  );
}
