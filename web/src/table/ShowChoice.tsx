import { Text } from "@chakra-ui/react";

import { Choice } from "../shared/Choice";
import { Handle } from "../shared/Handle";
import { type LayerEntry, useLayerList } from "../shared/useLayerList";
import type { PaneIndex, PaneShow } from "../shared/view";
import { usePanes, useSetPane } from "../shared/viewStore";
import { useShowTitle } from "./useShowTitle";

interface Props {
  readonly index: PaneIndex;
  readonly show: PaneShow;
}

/** The handle that changes what a pane shows: a scene, a kept map, the map as it stands. */
export function ShowChoice({ index, show }: Props) {
  const text = useShowTitle(show);
  return (
    <Handle text={text} label="Show something else in this pane">
      {(close) => <Choices index={index} close={close} />}
    </Handle>
  );
}

interface ChoicesProps {
  readonly index: PaneIndex;
  readonly close: () => void;
}

function Choices({ index, close }: ChoicesProps) {
  const groups = useLayerList();
  const now = usePanes()[index];
  const setPane = useSetPane();
  const choose = (entry: LayerEntry) => {
    setPane(index, entry.show(now));
    close();
  };
  return groups.map(({ title, entries }) => {
    const shown = entries.filter((entry) => !entry.hidden);
    if (shown.length === 0) return null;
    return (
      <div key={title}>
        <Text color="quiet" fontSize="0.92em" px="2" pt="2" pb="0.5">
          {title}
        </Text>
        {shown.map((entry) => (
          <Choice
            key={entry.key}
            title={entry.title}
            note={entry.note}
            chosen={entry.isShownBy(now)}
            onChoose={() => choose(entry)}
          />
        ))}
      </div>
    );
  });
}
