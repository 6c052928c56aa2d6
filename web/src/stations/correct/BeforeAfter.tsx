import { Text } from "@chakra-ui/react";
import { useState } from "react";

import { useHistogram } from "../../api/queries/corrections";
import { useScenes } from "../../api/queries/scenes";
import type { Scene } from "../../api/types";
import { type Bins, HistogramStrip } from "../../charts";
import { formatCount } from "../../shared/format";
import { Part } from "../../shared/Part";
import { bandQuantityWords } from "../../shared/quantity";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { useView } from "../../shared/viewStore";

/** The histograms of the two scenes that the panes show, over one range. */
export function BeforeAfter() {
  const { data: scenes = [] } = useScenes(useStudyId());
  const { panes } = useView("panes");
  const [left, right] = panes.map((pane) =>
    pane.kind === "scene" ? scenes.find((scene) => scene.id === pane.sceneId) : undefined,
  );
  if (!left || !right || left.id === right.id) return null;
  return <Histograms key={`${left.id} ${right.id}`} left={left} right={right} />;
}

interface Props {
  readonly left: Scene;
  readonly right: Scene;
}

function Histograms({ left, right }: Props) {
  const there = new Set(right.bands.map((band) => band.role));
  const roles = left.bands.map((band) => band.role).filter((role) => there.has(role));
  const [picked, setPicked] = useState("blue");
  const role = roles.includes(picked) ? picked : (roles[0] ?? "");
  const before = useHistogram(left.id, role);
  const after = useHistogram(right.id, role);
  if (!before.data || !after.data || role === "") return null;
  const low = Math.min(before.data.low, after.data.low);
  const high = Math.max(before.data.high, after.data.high);
  return (
    <Part title="Left and right pane">
      <Select
        label="Band of both histograms"
        hideLabel
        value={role}
        options={roles.map((one) => ({ value: one, label: one }))}
        onValue={setPicked}
      />
      {[
        { scene: left, bins: before.data },
        { scene: right, bins: after.data },
      ].map(({ scene, bins }) => (
        <div key={scene.id}>
          <Text truncate>
            {scene.title}: {formatCount(bins.n_valid)} pixels
          </Text>
          <HistogramStrip
            bins={onto(bins, low, high)}
            label={`Histogram of ${role} in ${scene.title}`}
            axisTitle={`${role}, ${bandQuantityWords(scene, role)}`}
          />
        </div>
      ))}
    </Part>
  );
}

const N_BINS = 96;

/** The bins spread over a wider range, so that two histograms stand over one another. */
function onto(bins: Bins, low: number, high: number): Bins {
  const counts = Array.from({ length: N_BINS }, () => 0);
  const width = (bins.high - bins.low) / bins.counts.length;
  bins.counts.forEach((n, i) => {
    const at = bins.low + (i + 0.5) * width;
    const place = Math.min(N_BINS - 1, Math.floor(((at - low) / (high - low)) * N_BINS));
    counts[place] = (counts[place] ?? 0) + n;
  });
  return { low, high, counts };
}
