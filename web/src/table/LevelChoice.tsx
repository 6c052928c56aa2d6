import { useClasses } from "../api/queries/training";
import { Choice } from "../shared/Choice";
import { Handle } from "../shared/Handle";
import { useStudyId } from "../shared/study";
import type { PaneIndex, PaneShow } from "../shared/view";
import { useSetPane } from "../shared/viewStore";

interface Props {
  readonly index: PaneIndex;
  readonly show: Extract<PaneShow, { kind: "live" | "map" }>;
}

/** At which level of the class scheme a map is coloured, where the scheme has two. */
export function LevelChoice({ index, show }: Props) {
  const { data: classes = [] } = useClasses(useStudyId());
  const setPane = useSetPane();
  if (classes.every(({ parent_id }) => parent_id === null)) return null;
  const { upper, ...own } = show;
  const levels = [
    { title: "own classes", chosen: !upper, next: own },
    { title: "classes above", chosen: upper === true, next: { ...own, upper: true as const } },
  ];
  return (
    <>
      {" "}
      · in the colours of its{" "}
      <Handle
        text={upper ? "classes above" : "own classes"}
        label="Change the level of the classes"
      >
        {(close) =>
          levels.map(({ title, chosen, next }) => (
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
    </>
  );
}
