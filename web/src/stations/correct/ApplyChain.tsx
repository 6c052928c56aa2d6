import { Text } from "@chakra-ui/react";

import { sentenceOf } from "../../api/problem";
import { useCorrectLayers } from "../../api/queries/corrections";
import type { Scene } from "../../api/types";
import { Primary } from "../../shared/Primary";
import { Remark } from "../../shared/Remark";
import { useStudyId } from "../../shared/study";
import { showScene } from "../../shared/view";
import { useViewStore } from "../../shared/viewStore";
import { useWork } from "../../shared/workStore";
import { useChain } from "./chainStore";
import { chosenWords } from "./chosenWords";
import { useChosenMaps, useChosenScenes } from "./useChosenScenes";

/** Do the chain to the chosen scenes; the first one is shown before and after, side by side. */
export function ApplyChain() {
  const { chosen } = useChosenScenes();
  const { chosenMaps } = useChosenMaps();
  const { steps, clear, choose } = useChain();
  const set = useWork((store) => store.set);
  const setPane = useViewStore((store) => store.setPane);
  const correct = useCorrectLayers(useStudyId());

  const apply = () => {
    const [before] = chosen;
    const orders = steps.map(({ operation, settings }) => ({
      operation,
      // Values moved by hand belong to one scene; of many, each gets its own.
      settings: chosen.length > 1 ? { ...settings, dark: undefined } : (settings ?? {}),
    }));
    const layers = [...chosen, ...chosenMaps].map(({ id }) => id);
    correct.mutate(
      { layer_ids: layers, steps: orders },
      {
        onSuccess: ({ made, maps }) => {
          const [after] = made;
          clear();
          set({ areas: [] });
          choose([...made, ...maps].map(({ id }) => id));
          const [mapBefore] = chosenMaps;
          const [mapAfter] = maps;
          if (mapBefore && mapAfter) {
            setPane(0, { kind: "map", layerId: mapBefore.id });
            setPane(1, { kind: "map", layerId: mapAfter.id });
          }
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
        <Remark key={problem.layer_id} tone="problem">
          {problem.title}: {problem.sentence}
        </Remark>
      ))}
      {correct.data && correct.data.made.length + correct.data.maps.length > 0 && (
        <Text color="quiet" mb="2" role="status">
          Made {chosenWords(correct.data.made.length, correct.data.maps.length)}; the first is shown
          before and after.
        </Text>
      )}
      <Primary
        disabled={chosen.length + chosenMaps.length === 0 || steps.length === 0}
        loading={correct.isPending}
        onClick={apply}
      >
        {`Correct ${chosenWords(chosen.length, chosenMaps.length)}`}
      </Primary>
    </>
  );
}

/** Whether one stretch can show both: the values mean the same, in the same bands. */
function haveSameValues(before: Scene, after: Scene): boolean {
  const roles = new Set(before.bands.map((band) => band.role));
  return before.quantity === after.quantity && after.bands.every((band) => roles.has(band.role));
}
