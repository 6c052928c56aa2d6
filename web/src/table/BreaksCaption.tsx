import { plural } from "../shared/format";
import { useKnownScenes } from "../shared/useKnownScenes";
import type { PaneIndex, PaneShow } from "../shared/view";
import { ShowChoice } from "./ShowChoice";

interface Props {
  readonly index: PaneIndex;
  readonly show: Extract<PaneShow, { kind: "breaks" }>;
}

/** Class breaks while they are set. */
export function BreaksCaption({ index, show }: Props) {
  const scene = useKnownScenes().find((one) => one.id === show.sceneId);
  const { rows } = JSON.parse(show.table) as { rows: unknown[] };
  return (
    <>
      <ShowChoice index={index} show={show} /> of {show.role}, {scene?.title}, in{" "}
      {plural(rows.length, "class", "classes")}; not kept yet
    </>
  );
}
