import { useHasLevels } from "../shared/useHasLevels";
import type { PaneIndex, PaneShow } from "../shared/view";
import { ShowHandle } from "./ShowHandle";

interface Props {
  readonly index: PaneIndex;
  readonly show: Extract<PaneShow, { kind: "live" | "map" }>;
}

/** At which level of the class scheme a map is coloured, where the scheme has two. */
export function LevelChoice({ index, show }: Props) {
  if (!useHasLevels()) return null;
  const { upper, ...own } = show;
  return (
    <>
      {" "}
      · in the colours of its{" "}
      <ShowHandle
        index={index}
        label="Change the level of the classes"
        text={upper ? "classes above" : "own classes"}
        ways={[
          { title: "own classes", chosen: !upper, next: own },
          { title: "classes above", chosen: upper === true, next: { ...own, upper: true } },
        ]}
      />
    </>
  );
}
