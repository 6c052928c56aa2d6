import { Text } from "@chakra-ui/react";

import { useLayers } from "../api/queries/layers";
import { useScenes } from "../api/queries/scenes";
import type { Scene } from "../api/types";
import { Choice } from "../shared/Choice";
import { formatDate } from "../shared/format";
import { Handle } from "../shared/Handle";
import { useStudyId } from "../shared/study";
import { type PaneShow, showScene } from "../shared/view";
import { useView, useViewStore } from "../shared/viewStore";

interface Props {
  readonly index: 0 | 1;
  readonly text: string;
}

/** The handle that changes what a pane shows: a scene, a kept map, or the map as it stands. */
export function ShowChoice({ index, text }: Props) {
  const studyId = useStudyId();
  const { data: scenes = [] } = useScenes(studyId);
  const { data: layers = [] } = useLayers(studyId);
  const now = useView().panes[index];
  const setPane = useViewStore((store) => store.setPane);
  return (
    <Handle text={text} label="Show something else in this pane">
      {(close) => {
        const choose = (show: PaneShow) => {
          setPane(index, show);
          close();
        };
        return (
          <>
            <Choice
              title="Class map as it stands"
              note="From the training sites of this moment, without a run"
              chosen={now.kind === "live"}
              onChoose={() => choose({ kind: "live" })}
            />
            {layers.length > 0 && <Group title="Class maps" />}
            {layers.map((layer) => (
              <Choice
                key={layer.id}
                title={layer.name}
                chosen={now.kind === "layer" && now.layerId === layer.id}
                onChoose={() => choose({ kind: "layer", layerId: layer.id })}
              />
            ))}
            <Group title="Scenes" />
            {[...scenes].sort(bySeries).map((scene) => (
              <Choice
                key={scene.id}
                title={scene.title}
                note={`${scene.sensor}, ${formatDate(scene.acquired)}`}
                chosen={now.kind === "scene" && now.sceneId === scene.id}
                onChoose={() => choose(showScene(scene, now))}
              />
            ))}
          </>
        );
      }}
    </Handle>
  );
}

function Group({ title }: { readonly title: string }) {
  return (
    <Text color="quiet" fontSize="0.92em" px="2" pt="2">
      {title}
    </Text>
  );
}

/** Dates of a series last; there may be many. */
function bySeries(a: Scene, b: Scene): number {
  return Number(a.series !== null) - Number(b.series !== null);
}
