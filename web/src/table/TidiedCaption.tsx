import { useMaps } from "../api/queries/maps";
import { plural } from "../shared/format";
import { useStudyId } from "../shared/study";
import type { PaneIndex, PaneShow } from "../shared/view";
import { ShowChoice } from "./ShowChoice";

interface Props {
  readonly index: PaneIndex;
  readonly show: Extract<PaneShow, { kind: "tidied" }>;
}

/** A class map while it is tidied. */
export function TidiedCaption({ index, show }: Props) {
  const { data: maps = [] } = useMaps(useStudyId());
  const map = maps.find(({ id }) => id === show.layerId);
  const n = (JSON.parse(show.steps) as unknown[]).length;
  return (
    <>
      <ShowChoice index={index} show={show} />: {map?.title} after {plural(n, "step")}; not kept yet
    </>
  );
}
