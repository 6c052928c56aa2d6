import { Choice } from "../shared/Choice";
import { Handle } from "../shared/Handle";
import type { PaneIndex, PaneShow } from "../shared/view";
import { useSetPane } from "../shared/viewStore";

interface Props {
  readonly index: PaneIndex;
  readonly label: string;
  readonly text: string;
  readonly ways: readonly {
    readonly title: string;
    readonly chosen: boolean;
    readonly next: PaneShow;
  }[];
}

/** Words of a caption behind which the same layer can be shown in another way. */
export function ShowHandle({ index, label, text, ways }: Props) {
  const setPane = useSetPane();
  return (
    <Handle text={text} label={label}>
      {(close) =>
        ways.map(({ title, chosen, next }) => (
          <Choice
            key={title}
            title={title}
            chosen={chosen}
            onChoose={() => {
              setPane(index, next);
              close();
            }}
          />
        ))
      }
    </Handle>
  );
}
