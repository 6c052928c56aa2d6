import { Handle } from "../shared/Handle";
import { Choice } from "../shared/Choice";
import type { PaneIndex, PaneShow } from "../shared/view";
import { useSetPane } from "../shared/viewStore";

interface Props {
  readonly index: PaneIndex;
  readonly show: Extract<PaneShow, { kind: "live" }>;
}

/** Of a map by another method: all of it, or only where it differs from that of the method in hand. */
export function LitChoice({ index, show }: Props) {
  const setPane = useSetPane();
  const { lit, ...whole } = show;
  if (!show.method) return null;
  const choices = [
    { title: "everywhere", chosen: !lit, next: whole },
    {
      title: "where it differs from the method in hand",
      chosen: lit === true,
      next: { ...whole, lit: true as const },
    },
  ];
  return (
    <>
      ,{" "}
      <Handle
        text={lit ? "where it differs" : "everywhere"}
        label="Show all of it, or only what differs"
      >
        {(close) =>
          choices.map(({ title, chosen, next }) => (
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
