import { Text } from "@chakra-ui/react";

import { sentenceOf } from "../../api/problem";
import { useDerive } from "../../api/queries/derive";
import { plural } from "../../shared/format";
import { usePreviewStore } from "../../shared/previewStore";
import { Primary } from "../../shared/Primary";
import { Remark } from "../../shared/Remark";
import { useStudyId } from "../../shared/study";
import { showScene } from "../../shared/view";
import { useViewStore } from "../../shared/viewStore";
import { useDeriveStore } from "./deriveStore";
import { useOrders } from "./useOrders";
import { useDraftNow, usePreviewPane } from "./usePreview";

/** Take what is previewed into the study; it is shown as it was set up. */
export function MakeLayers() {
  const { scene, orders } = useOrders();
  const derive = useDerive(useStudyId());
  const pane = usePreviewPane();
  const setPane = useViewStore((store) => store.setPane);
  const { also, made: isMade, finish } = useDeriveStore();
  const wrong = useDraftNow().error !== null;
  const make = () => {
    const { preview, set } = usePreviewStore.getState();
    derive.mutate(
      { scene_ids: [scene.id, ...also], orders },
      {
        onSuccess: ({ made, runs }) => {
          if (made.length + runs.length === 0) return;
          set(null);
          finish();
          // Of many indices the last one was previewed; of many scenes the first one's.
          const shown = made[orders.length - 1] ?? made[0];
          if (shown) setPane(pane, showScene(shown, preview?.show));
        },
      },
    );
  };
  const { data, error } = derive;
  const n = orders.length * (1 + also.length);
  return (
    <>
      {error && <Remark tone="problem">{sentenceOf(error)}</Remark>}
      {data?.problems.map((problem) => (
        <Remark key={problem.sentence} tone="problem">
          {problem.title}: {problem.sentence}
        </Remark>
      ))}
      {isMade && data && (data.made.length > 0 || data.runs.length > 0) && (
        <Text color="quiet" mb="2" role="status">
          {data.made.length > 0 &&
            `Made ${data.made.map(({ title }) => `“${title}”`).join(", ")}. `}
          {data.runs.length > 0 && "Counting every pixel first; the layer appears when it is done."}
        </Text>
      )}
      <Primary disabled={orders.length === 0 || wrong} loading={derive.isPending} onClick={make}>
        {n > 1 ? `Make ${plural(n, "layer")}` : "Make the layer"}
      </Primary>
    </>
  );
}
