import { Text } from "@chakra-ui/react";

import { sentenceOf } from "../../api/problem";
import { useCorrectScenes } from "../../api/queries/corrections";
import type { Scene } from "../../api/types";
import { plural } from "../../shared/format";
import { Primary } from "../../shared/Primary";
import { Remark } from "../../shared/Remark";
import { useStudyId } from "../../shared/study";
import { showScene } from "../../shared/view";
import { useViewStore } from "../../shared/viewStore";
import { useWork } from "../../shared/workStore";
import { useChain } from "./chainStore";
import { useChosenScenes } from "./useChosenScenes";

/** Do the chain to the chosen scenes; the first one is shown before and after, side by side. */
export function ApplyChain() {
  const { chosen } = useChosenScenes();
  const { steps, clear, choose } = useChain();
  const set = useWork((store) => store.set);
  const setPane = useViewStore((store) => store.setPane);
  const correct = useCorrectScenes(useStudyId());

  const apply = () => {
    const [before] = chosen;
    const orders = steps.map(({ operation, settings }) => ({
      operation,
      // Values moved by hand belong to one scene; of many, each gets its own.
      settings: chosen.length > 1 ? { ...settings, dark: undefined } : (settings ?? {}),
    }));
    correct.mutate(
      { scene_ids: chosen.map((scene) => scene.id), steps: orders },
      {
        onSuccess: ({ made }) => {
          const [after] = made;
          clear();
          set({ areas: [] });
          choose(made.map((scene) => scene.id));
          if (!before || !after) return;
          const shown = showScene(before);
          const like = haveSameValues(before, after) ? { stretchOf: before.id } : {};
          setPane(0, shown);
          setPane(1, { ...showScene(after, shown), ...like });
        },
      },
    );
  };
  return (
    <>
      {correct.error && <Remark tone="problem">{sentenceOf(correct.error)}</Remark>}
      {correct.data?.problems.map((problem) => (
        <Remark key={problem.scene_id} tone="problem">
          {problem.title}: {problem.sentence}
        </Remark>
      ))}
      {correct.data && correct.data.made.length > 0 && (
        <Text color="quiet" mb="2" role="status">
          Made {plural(correct.data.made.length, "scene")}; the first is shown before and after.
        </Text>
      )}
      <Primary
        disabled={chosen.length === 0 || steps.length === 0}
        loading={correct.isPending}
        onClick={apply}
      >
        {`Correct ${plural(chosen.length, "scene")}`}
      </Primary>
    </>
  );
}

/** Whether one stretch can show both: the values mean the same, in the same bands. */
function haveSameValues(before: Scene, after: Scene): boolean {
  const roles = new Set(before.bands.map((band) => band.role));
  return before.quantity === after.quantity && after.bands.every((band) => roles.has(band.role));
}
